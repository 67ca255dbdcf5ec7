/**
 * The reliability campaign: kills, damaged files, broken bodies, several windows, a full disk, a clock set back. It runs on this
 * machine alone, in folders of its own, and ends with figures. `node campaign.mjs RESULT MINUTES [TRIAL]`.
 */
import { writeFileSync } from 'node:fs';
import { brokenBodies } from './bodies.js';
import { clockSet } from './clock.js';
import { damagedFiles } from './files.js';
import { fullDisk } from './fullDisk.js';
import { killed } from './kills.js';
import { underLoad } from './load.js';
import { killedWithRecordings, manyRecordings, twoDatabases } from './recordings.js';
import { upgraded } from './upgrade.js';
import { severalWindows } from './windows.js';

const [result = 'campaign.json', minutesGiven = '15', only] = process.argv.slice(2);
const minutes = Number(minutesGiven);

/** What share of the time each trial has. */
const TRIALS = [
  { name: 'kills', share: 0.5, run: killed },
  { name: 'upgrades', share: 0.05, run: upgraded },
  { name: 'clock', share: 0.02, run: clockSet },
  { name: 'damaged files', share: 0.18, run: damagedFiles },
  { name: 'broken bodies', share: 0.15, run: brokenBodies },
  { name: 'eight windows', share: 0.1, run: severalWindows },
  { name: 'two databases', share: 0.03, run: twoDatabases },
  { name: 'recordings', share: 0.1, run: killedWithRecordings },
  { name: 'many recordings', share: 0, run: manyRecordings },
  { name: 'full disk', share: 0, run: fullDisk },
  // This one takes as long as it takes: about a minute.
  { name: 'under load', share: 0, run: underLoad },
] as const;

const all: { [name: string]: object } = {};
let failed = 0;
for (const { name, share, run } of TRIALS) {
  if (only && name !== only) continue;
  const until = Date.now() + (only ? 1 : share) * minutes * 60_000;
  const { problems, ...figures } = await run(() => Date.now() < until);
  failed += problems.length;
  all[name] = { ...figures, problems };
  console.log(name, JSON.stringify(figures));
  for (const problem of problems.slice(0, 20)) console.log(`  WRONG: ${problem}`);
}
writeFileSync(result, JSON.stringify({ minutes, trials: all }, null, 2));
console.log(failed === 0 ? 'Nothing went wrong.' : `${failed} things went wrong.`);
process.exit(failed === 0 ? 0 : 1);
