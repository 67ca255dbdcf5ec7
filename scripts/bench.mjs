// npm run bench: times the computation and the Desk, and writes docs/benchmarks.md.
// npm run bench -- steps desk: measures these alone, and takes the others from the last run on this machine.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus, totalmem } from 'node:os';
import path from 'node:path';
import { build } from 'esbuild';
import { installPackages, root, run } from './install.mjs';

const out = path.join(root, 'node_modules', '.cache', 'bench');
mkdirSync(out, { recursive: true });
installPackages();
run('npm', ['run', '--silent', 'build']);

const named = process.argv.slice(2);

const measure = async (name) => {
  const result = path.join(out, `${name}.json`);
  if (named.length > 0 && !named.includes(name) && existsSync(result)) return JSON.parse(readFileSync(result, 'utf8'));
  const script = path.join(out, `${name}.mjs`);
  await build({
    entryPoints: [path.join(root, 'bench', `${name}.ts`)],
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    alias: { '@crispfold/core': path.join(root, 'packages/core/src/index.ts') },
    outfile: script,
    logLevel: 'warning',
  });
  run(process.execPath, [script, result]);
  return JSON.parse(readFileSync(result, 'utf8'));
};

const ratio = (value) => value.toFixed(2);
const ms = (value) => (value >= 100 ? value.toFixed(0) : value.toFixed(1));
const rows = await measure('core');
const steps = await measure('steps');
const edits = await measure('edits');
const desk = await measure('desk');
const parts = await measure('parts');
const hues = await measure('hues');
const lanes = await measure('lanes');
const takes = await measure('takes');
const allRows = await measure('table');
const ofHue = (what) => hues.rows.filter((row) => row.what === what);
const table = rows.map(
  (row) =>
    `| ${row.name} | ${row.notes.toLocaleString('en')} | ${row.bars} | ${ms(row.sort)} | ${ms(row.import)} | ${ms(row.plan)} | ${(row.plan / row.sort).toFixed(0)} | ${ms(row.musicXml)} | ${(row.musicXml / row.sort).toFixed(0)} | ${row.verovio === null ? '' : `${(row.musicXml / row.verovio).toFixed(2)}`} |`,
);
const made = rows.slice(-3);
const growth = made.slice(1).map((row, index) => (row.plan / made[index].plan).toFixed(2));

const growths = (timed) =>
  timed.slice(1).map(({ time }, index) => (time / Math.max(0.05, timed[index].time)).toFixed(2));
const stepTable = steps.rows.map(
  ({ name, sizes }) =>
    `| ${name} | ${sizes.map((size) => size.sorts.toFixed(1)).join(' | ')} | ${growths(sizes).join(', ')} |`,
);

writeFileSync(
  path.join(root, 'docs', 'benchmarks.md'),
  `# Benchmarks

Written by \`npm run bench\` on ${cpus().length} × ${cpus()[0]?.model.trim()}, ${(totalmem() / 2 ** 30).toFixed(0)} GB, Node ${process.version}, ${new Date().toISOString().slice(0, 10)}.
A shared machine: read the ratios before the milliseconds. Times are medians of five runs after one (steps and checks: of
nine runs, warm), in milliseconds.

## From a file to the page

"Sort" sorts the same notes by start and pitch in the same run; "in sorts" is the time as a multiple of it.
The ten files are Debian's \`planetblupi-music-midi\`.
"To Verovio’s loading": score and MusicXML together, as a share of the time that Verovio takes to load that file, once.

| file | notes | bars | sort | import | default plan | in sorts | MusicXML | in sorts | to Verovio’s loading |
| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: |
${table.join('\n')}

Doubling the made notes multiplies the default plan's time by ${growth.join(' and ')}.

## Each step and each check

One made part of 28, 56 and 112 thousand notes (chords, doubles' worth of specks, a pedal); times as multiples of sorting
the same notes, shuffled, by start and pitch; all sizes and their sorts take turns (${steps.sorts.map(ms).join(', ')} ms). The last
column is the growth at each doubling; what takes well under a sort grows at random.

| what | ${steps.notes.map((count) => `${count.toLocaleString('en')} notes`).join(' | ')} | growth |
| --- | ---: | ---: | ---: | --- |
${stepTable.join('\n')}

## Edits and commands

As multiples of sorting the same notes in the same run.

| what | notes | in sorts | milliseconds |
| --- | ---: | ---: | ---: |
${edits.rows.map((row) => `| ${row.what} | ${row.notes.toLocaleString('en')} | ${ratio(row.sorts)} | ${ms(row.ms)} |`).join('\n')}

Three hundred notes, the first of them held for so many bars:

| bars | default plan | all checks |
| ---: | ---: | ---: |
${edits.silences.map((row) => `| ${row.bars.toLocaleString('en')} | ${ms(row.plan)} | ${ms(row.checks)} |`).join('\n')}

Reading the pitches of 64 thousand notes in 63 parts takes ${ms(edits.spelled[0])} ms for the whole piece, ${ms(edits.spelled[1])} ms for the nine
bars of one part that a page shows.

## Takes and recordings

Finding the beats of a take, and the check that asks whether the file's own will do, as multiples of sorting its notes.

| file | notes | beats found | in sorts | check | in sorts |
| --- | ---: | ---: | ---: | ---: | ---: |
${takes.takes.map((row) => `| ${row.name} | ${row.notes.toLocaleString('en')} | ${ms(row.beats)} | ${(row.beats / row.sort).toFixed(0)} | ${ms(row.check)} | ${(row.check / row.sort).toFixed(0)} |`).join('\n')}

A recording of ${takes.recording.minutes} minutes: its shape is worked out in ${ms(takes.recording.peaks)} ms, ${ratio(takes.recording.peaks / takes.recording.sum)} times what adding up its samples takes;
its attacks are found in ${ms(takes.recording.attacks)} ms, ${ratio(takes.recording.attacks / takes.recording.sum)} times as long.

## Many parts in the browser

From the drop of the file in the library to the first picture of its page, and until every part's plan has run; from an edit
of the front part to its new page (the middle of thirty edits, the first some seconds after the last plan has run); a frame of the roll while scrolling, and its ratio to a bare canvas of the same size that
fills as many rectangles, in the same run.

| parts | notes | first page | all plans | edit to page | frame, eight bars: median, worst | to bare | frame, whole piece | to bare |
| ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: |
${parts.map((row) => `| ${row.parts} | ${row.notes.toLocaleString('en')} | ${ms(row.first)} | ${ms(row.ready)} | ${ms(row.edit)} | ${ms(row.near.median)}, ${ms(row.near.worst)} | ${ratio(row.near.median / row.bareNear.median)} | ${ms(row.whole.median)}, ${ms(row.whole.worst)} | ${ratio(row.whole.median / row.bareWhole.median)} |`).join('\n')}

All shown parts in reach. A hundred notes dragged about for thirty moves: our own script in each task of the screen's
thread (layout and painting not counted). All notes selected, moved by the grid, made louder, taken back: from the key to
the end of the browser's work for it, painting included, median of ${parts[0].all.turns}.

The last column: from a key in a sentence's field to its new count.

| parts | notes | dragged | own script: median, worst | select all | move all | louder | undo | sentence counted |
| ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: |
${parts.map(({ parts: count, notes, dragging, all, counting }) => `| ${count} | ${notes.toLocaleString('en')} | ${dragging.notes} | ${ms(dragging.median)}, ${ms(dragging.worst)} | ${ms(all.select)} | ${ms(all.move)} | ${ms(all.louder)} | ${ms(all.undo)} | ${ms(counting)} |`).join('\n')}

## What hue shows

A frame of the roll with ${hues.notes.toLocaleString('en')} notes in 7 parts while it scrolls, eight bars and the whole piece on view: milliseconds (median,
worst of 80), and the median's ratio to a bare canvas measured right before it.

| hue shows | eight bars | to bare | whole piece | to bare |
| --- | ---: | ---: | ---: | ---: |
${[...new Set(hues.rows.map(({ what }) => what))]
  .map(
    (what) =>
      `| ${what} | ${ofHue(what)
        .map((row) => `${ms(row.median)}, ${ms(row.worst)} | ${ratio(row.ratio)}`)
        .join(' | ')} |`,
  )
  .join('\n')}

## Lanes

${lanes.events.toLocaleString('en')} points of one controller; as multiples of sorting them by value in the same run (${ms(lanes.sort)} ms).

| what | in sorts | milliseconds |
| --- | ---: | ---: |
${lanes.rows.map((row) => `| ${row.what} | ${ratio(row.sorts)} | ${ms(row.ms)} |`).join('\n')}

A frame while scrolling, with no lane and with a lane of these points (median, worst): eight bars
${ms(lanes.near.median)}, ${ms(lanes.near.worst)} and ${ms(lanes.nearLane.median)}, ${ms(lanes.nearLane.worst)} ms; the whole piece ${ms(lanes.whole.median)}, ${ms(lanes.whole.worst)} and ${ms(lanes.wholeLane.median)}, ${ms(lanes.wholeLane.worst)} ms.

## The table

${allRows.rows.toLocaleString('en')} notes: from the key to its rows ${ms(allRows.opened)} ms; a frame while it scrolls ${ms(allRows.frame)} ms (median), ${ms(allRows.worst)} at worst; from a
word to the rows that have it ${ms(allRows.narrowed)} ms.

## The Desk in the browser

Headless Chromium without a graphics card, 1280 × 800.

| what | milliseconds |
| --- | ---: |
| from an edit to the new page, the demo, the first bars and all parts | ${ms(desk.demoEdit)} |
| from an edit to the new page, planetblupi's music009.mid | ${ms(desk.largeEdit)} |
| from switching a step of the plan to its counts, a part of 2 thousand notes | ${ms(desk.plan.counts)} |
| and to the new page of the bars on view | ${ms(desk.plan.page)} |
| a frame of the roll while scrolling, music009.mid, eight bars wide: median, worst of 80 | ${ms(desk.near.median)}, ${ms(desk.near.worst)} |
| the same with the whole piece on view | ${ms(desk.whole.median)}, ${ms(desk.whole.worst)} |

A frame is counted from the wheel's turn to the end of the browser's work for it, so it holds the wait for the next
frame (up to 16.7 ms) as well. `,
);
console.log('Wrote docs/benchmarks.md');
