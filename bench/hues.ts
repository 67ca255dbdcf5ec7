/** Frames of the roll for each thing that hue can show, and with a voice brought forward, to a bare canvas. */
import { writeFileSync } from 'node:fs';
import { compareNotes } from '@crispfold/core';
import { HUE_NAMES, HUES } from '../apps/web/src/desk/state/hueModes.js';
import { bareFrames, dropToPage, end, fileOf, frames, page, untilReady } from './browser.js';
import { madeScoreOf } from './made.js';

const LOOKS = [
  { name: 'eight bars', bars: 8, keys: [] },
  { name: 'whole piece', bars: 10_000, keys: ['0'] },
];

/** The key of a list, then the one in it, once the list is there; or a single key. */
const press = async (...keys: readonly string[]): Promise<void> => {
  await page.locator('#roll').focus();
  const [first, second] = keys;
  if (first) await page.keyboard.press(first);
  if (second) {
    await page.getByRole('menu').waitFor();
    await page.keyboard.press(second);
  }
  await page.waitForTimeout(1500);
};

const score = madeScoreOf(7, 4000);
/** The first part is a keyboard's with two hands, so that one of them can be brought forward. */
const arrangement = {
  ...score,
  parts: score.parts.map((part, index) =>
    index > 0
      ? part
      : {
          ...part,
          name: 'piano',
          instrument: 'piano',
          program: 0,
          notes: part.notes
            .map((note, count) => (count % 2 === 0 ? note : { ...note, pitch: note.pitch - 20 }))
            .sort(compareNotes),
        },
  ),
};
const rows: { what: string; look: string; median: number; worst: number; ratio: number }[] = [];
await dropToPage(fileOf(arrangement, 'Hues'));
await untilReady();
for (const { name: look, bars, keys } of LOOKS) {
  await press(...keys);
  const measure = async (what: string): Promise<void> => {
    // The bare canvas takes its turn right beside each.
    const { median: bare } = await bareFrames(arrangement, bars);
    const { median, worst } = await frames();
    rows.push({ what, look, median, worst, ratio: median / bare });
    console.log(rows.at(-1));
  };
  for (const hue of HUES) {
    await measure(HUE_NAMES[hue]);
    await press('y', 'h');
  }
  await press('y', 'w');
  await measure('Part, one voice brought forward');
  await page.getByRole('button', { name: 'All notes again' }).click();
}
writeFileSync(process.argv[2] ?? 'bench-hues.json', JSON.stringify({ notes: 28_001, rows }));
await end();
