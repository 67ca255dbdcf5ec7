/**
 * The reliability campaign: kills, damaged files, broken bodies, several windows, a full disk, a clock set back. It runs on this
 * machine alone, in folders of its own, and ends with figures. `node campaign.mjs RESULT MINUTES [TRIAL,TRIAL]`;
 * trials named alone join those of an earlier run.
 */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { brokenBodies } from './bodies.js';
import { clockSet } from './clock.js';
import { deletionsInterleaved } from './deletions.js';
import { damagedFiles } from './files.js';
import { fullDisk } from './fullDisk.js';
import { killed } from './kills.js';
import { underLoad } from './load.js';
import { longSession } from './longSession.js';
import { killedWithRecordings, manyRecordings, twoDatabases } from './recordings.js';
import { damagedScores } from './scores.js';
import { sessionsTried } from './sessions.js';
import { tabCrashes } from './tabs.js';
import { upgraded } from './upgrade.js';
import { severalWindows } from './windows.js';

const [result = 'campaign.json', minutesGiven = '15', only] = process.argv.slice(2);
const minutes = Number(minutesGiven);
const named = only?.split(',');

/** A run of fewer minutes is a short part of the campaign. */
const SHORT = 5;

/** What share of the time each trial has. */
const TRIALS = [
  { name: 'kills', share: 0.06, run: killed },
  { name: 'recordings', share: 0.4, run: killedWithRecordings },
  { name: 'two databases', share: 0.02, run: twoDatabases },
  { name: 'deletions interleaved', share: 0.24, run: deletionsInterleaved },
  { name: 'damaged scores and archives', share: 0.11, run: damagedScores },
  { name: 'sessions', share: 0.02, run: sessionsTried },
  { name: 'tab crashes', share: 0.04, run: tabCrashes },
  { name: 'upgrades', share: 0.03, run: upgraded },
  { name: 'clock', share: 0.01, run: clockSet },
  { name: 'damaged files', share: 0.03, run: damagedFiles },
  { name: 'broken bodies', share: 0.02, run: brokenBodies },
  { name: 'eight windows', share: 0.02, run: severalWindows },
  { name: 'full disk', share: 0, run: fullDisk },
  // These take as long as they take: a minute to five each.
  { name: 'many recordings', share: 0, run: manyRecordings, whole: true },
  { name: 'long session', share: 0, run: longSession, whole: true },
  { name: 'under load', share: 0, run: underLoad },
] as const;

const all: { [name: string]: object } = {};
let failed = 0;
for (const { name, share, run, ...trial } of TRIALS) {
  if (named && !named.includes(name)) continue;
  // A short part of the campaign leaves out what takes long whatever it is given.
  if (!only && 'whole' in trial && minutes < SHORT) continue;
  const together = TRIALS.reduce((sum, other) => sum + (named?.includes(other.name) ? other.share : 0), 0);
  const began = Date.now();
  const until = began + (named ? share / Math.max(together, 1e-9) : share) * minutes * 60_000;
  const { problems, ...figures } = await run(() => Date.now() < until);
  failed += problems.length;
  all[name] = { minutes: Number(((Date.now() - began) / 60_000).toFixed(1)), ...figures, problems };
  console.log(name, JSON.stringify(figures));
  for (const problem of problems.slice(0, 20)) console.log(`  WRONG: ${problem}`);
}
const before = named && existsSync(result) ? JSON.parse(readFileSync(result, 'utf8')).trials : {};
writeFileSync(result, JSON.stringify({ trials: { ...before, ...all } }, null, 2));
console.log(failed === 0 ? 'Nothing went wrong.' : `${failed} things went wrong.`);
process.exit(failed === 0 ? 0 : 1);
