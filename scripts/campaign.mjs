// npm run campaign: tries to lose work and to hang the server, and writes docs/reliability.md with what came of it.
// npm run campaign -- --long takes two hours instead of a quarter; --minutes N so many, and writes nothing but with --write;
// --minutes N --only TRIAL,TRIAL some of the trials alone; with --write their figures join those of the last run.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus, totalmem } from 'node:os';
import path from 'node:path';
import { build } from 'esbuild';
import { installPackages, root, run } from './install.mjs';

const given = process.argv.indexOf('--minutes');
const only = process.argv.indexOf('--only');
const long = process.argv.includes('--long');
const minutes = given > 0 ? Number(process.argv[given + 1]) : long ? 120 : 15;

installPackages();
if (process.env.CRISPFOLD_BUILT !== 'yes') run('npm', ['run', '--silent', 'build']);
const out = path.join(root, 'node_modules', '.cache', 'campaign');
mkdirSync(out, { recursive: true });
const script = path.join(out, 'run.mjs');
const result = path.join(out, 'result.json');
await build({
  entryPoints: [path.join(root, 'campaign', 'run.ts')],
  bundle: true,
  platform: 'node',
  format: 'esm',
  packages: 'external',
  alias: {
    '@crispfold/core': path.join(root, 'packages/core/src/index.ts'),
    '@crispfold/contract': path.join(root, 'packages/contract/src/index.ts'),
  },
  outfile: script,
  logLevel: 'warning',
});
run(process.execPath, [script, result, String(minutes), ...(only > 0 ? [process.argv[only + 1]] : [])]);

if (given < 0 || process.argv.includes('--write')) {
  const { trials } = JSON.parse(readFileSync(result, 'utf8'));
  const rows = Object.entries(trials).flatMap(([name, { problems, ...figures }]) =>
    Object.entries({ ...figures, 'went wrong': problems.length }).map(
      ([figure, value]) => `| ${name} | ${figure} | ${value} |`,
    ),
  );
  writeFileSync(
    path.join(root, 'docs', 'reliability.md'),
    `# Reliability

Written by \`npm run campaign\`; each trial says how many minutes it had, in one run or several (\`runs\`: counts added, the longest kept). On ${cpus().length} × ${cpus()[0]?.model.trim()}, ${(totalmem() / 2 ** 30).toFixed(0)} GB, Node ${process.version}, ${new Date().toISOString().slice(0, 10)}.

- **Kills**: a server is killed (\`kill -9\`, one time in twenty SIGTERM) in the midst of edits, going back and forth, imports,
  deletions and backups; after each it has to stand exactly as was acknowledged, or with the one change that was under way.
- **Recordings**: a server is killed while recordings and scores are brought in; what was acknowledged comes back byte for byte.
- **Two databases** in one folder, each with recordings and a SoundFont, killed and started anew; one gives way to a backup of
  its beginning, is served so, and comes back: both keep all that is theirs.
- **Deletions interleaved**: edits, openings, deletions, restores, copies, archives, recordings and deletions for good of one
  arrangement, all at once: it is in one place then, with every change that was acknowledged, or gone.
- **Damaged scores and archives**: MusicXML, compressed scores, MIDI files and archives, damaged within their text up to three
  times; refused in words, or stored, changed, archived, brought back and exported, and then the same. \`gateClosed\` counts
  those that reading let through and the check before storing refused.
- **Sessions**: four hundred wrong tokens and cookies at once while the right ones come in (\`rightWaited\`, in milliseconds);
  sessions through kills and signing out; twenty seconds of guessing by forty at once.
- **Tab crashes**: the server is killed, changes are made, then the browser is killed, its tab crashes or is closed; each
  change comes back at the next opening.
- **Upgrades**: databases of the releases before are brought up to date by a server that is killed half-way, up to three
  times; each arrangement has to come out exactly, and to go back to its beginning.
- **Clock**: it jumps by up to 20 days, back and forth, while the server runs; requests are sent again across the jump.
- **Damaged files**: real and made MIDI files, damaged at random up to three times each, read in one process, written and
  read again.
- **Broken bodies**: nearly right bodies to every route that changes something; what was taken has to be a whole arrangement.
- **Eight windows** on one arrangement, three in ten answers lost and asked for again: each change has to be there once.
- **Full disk**: files may grow to a bound, as if the disk ended there; each change is refused in words or is there.
- **Many recordings**: ten of a hundred megabytes at once while changes are saved one after another (\`othersWaited\` is the
  longest of those); forty-five small ones at once, of which twenty are allowed; backups asked for by another site, and given
  up half-way.
- **Long session**: two thousand changes in one tab; what tab (live objects) and server (resident) take on the way.
- **Under load**: three 20 MB files of the smallest messages, and a file of 299 thousand notes, while others ask; then two
  hundred arrangements are opened.

Before, by the trial that these answer: recordings of another database were deleted at each start; ten edits were gone with
their tab; a deletion under way left an arrangement in the bin that took edits in 15 of 15 tries; ten large recordings made
others wait 42 s; of 45 at once 24 were kept; twelve backups asked for by another site left twelve copies; a token of eight
characters fell to 5060 guesses of its cookie in 35 s; a compressed score of 3 MB took 1.2 GB.

| trial | figure | value |
| --- | --- | ---: |
${rows.join('\n')}
`,
  );
  console.log('Wrote docs/reliability.md');
}
