/** Times the Desk with many parts: from the drop of the file to its page, an edit to the page, frames of the roll. */
import { writeFileSync } from 'node:fs';
import {
  allNotes,
  bareFrames,
  dragHundred,
  dropToPage,
  editToPage,
  end,
  fileOf,
  frames,
  page,
  sentenceCounts,
  untilReady,
} from './browser.js';
import { madeScoreOf } from './made.js';

const SIZES = [
  { parts: 7, notes: 4000 },
  { parts: 40, notes: 700 },
  { parts: 63, notes: 1016 },
];

const rows = [];
for (const { parts, notes } of SIZES) {
  const arrangement = madeScoreOf(parts, notes);
  const file = fileOf(arrangement, `${parts} parts`);
  const total = arrangement.parts.reduce((sum, part) => sum + part.notes.length, 0);
  const first = await dropToPage(file);
  const ready = first + (await untilReady());
  const edit = await editToPage();
  const near = await frames();
  const bareNear = await bareFrames(arrangement, 8);
  await page.locator('#roll').focus();
  await page.keyboard.press('0');
  await page.waitForTimeout(1500);
  const whole = await frames();
  const bareWhole = await bareFrames(arrangement, 10_000);
  const dragging = await dragHundred();
  const all = await allNotes(9);
  const counting = await sentenceCounts(9);
  rows.push({ parts, notes: total, first, ready, edit, near, bareNear, whole, bareWhole, dragging, all, counting });
  console.log(rows.at(-1));
}
writeFileSync(process.argv[2] ?? 'bench-parts.json', JSON.stringify(rows));
await end();
