/** Notes entered one after another: by letters, by the computer's keys, by clicks; taken back one by one. */
import { expect } from '@playwright/test';
import {
  caret,
  clean,
  engraved,
  entryPlace,
  historyOf,
  lookAtNextNote,
  openDemo,
  pageReady,
  press,
  roll,
  spokenWords,
  test,
} from './desk.js';

test('a tune is entered by letters and values, stands in roll and page, and is taken back note by note', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  // Into the flute at bar 1, over what stands there.
  await press(page, 'Home', 'Shift+D');
  const bar = page.getByRole('region', { name: 'Note by note' });
  await expect(bar).toBeVisible();
  const place = entryPlace(page);
  await expect(place).toHaveText(/^Flute: bar 1 beat 1,/);
  await clean(page, { but: '.engraved' });
  await press(page, '3', 'f', 'g', 'a');
  await expect(spokenWords(page)).toHaveText(/^Flute, A\d, bar 1 beat 3, quarter/);
  await expect(place).toHaveText('Flute: bar 1 beat 4, quarter');
  // A dotted eighth, a rest, a tone that joins the chord, a tie, a triplet.
  await press(page, '4', '.', 'b');
  await expect(spokenWords(page)).toHaveText(/^Flute, B♭\d, bar 1 beat 4, dotted eighth/);
  await press(page, '.', '5', '0', 'c', 'Shift+E', '-', '/', 'd');
  await expect(spokenWords(page)).toHaveText(/sixteenth of a triplet/);
  await press(page, 'ArrowUp');
  await expect(spokenWords(page)).toHaveText('Transpose: 1 note in Flute');
  expect((await historyOf(page)).slice(1)).toEqual([
    ...Array<string>(6).fill('Enter: 1 note in Flute'),
    'Tie: 2 notes in Flute',
    'Enter: 1 note in Flute',
    'Transpose: 1 note in Flute',
  ]);
  // Taken back, one by one, to the first note.
  for (let steps = 0; steps < 9; steps += 1) await press(page, 'Backspace');
  await expect(place).toHaveText('Flute: bar 1 beat 2, quarter');
  // The computer's keys as a keyboard, and a click on the one on the screen.
  await bar.getByLabel('Computer keys as a keyboard').check();
  await press(page, 'g');
  await expect(spokenWords(page)).toHaveText(/^Flute, G4, bar 1 beat 2/);
  await bar.getByRole('button', { name: /^Key 5: E4/ }).click();
  await expect(spokenWords(page)).toHaveText(/^Flute, E4, bar 1 beat 3/);
  await press(page, 'Escape');
  await expect(bar).toHaveCount(0);
  // Letters are commands again.
  await press(page, 'a');
  await expect(page.getByRole('contentinfo')).toContainText(/\d+ notes selected/);
  expect(troubles).toEqual([]);
});

test('what stands under the pointer, and where a note would go, is said before the click', async ({ page, server }) => {
  await openDemo(page, server);
  await pageReady(page);
  const foot = page.getByRole('contentinfo');
  const [x, y] = await lookAtNextNote(page);
  await page.mouse.move(x, y);
  await expect(foot).toContainText(/Flute, [A-G].*bar \d+ beat \d.*Drag/);
  await press(page, 'd');
  const box = await roll(page).boundingBox();
  await page.mouse.move((box?.x ?? 0) + 300, (box?.y ?? 0) + 260);
  await expect(foot).toContainText(/Would go there: Flute, [A-G].*, bar \d+ beat \d.*sixteenth/);
  await engraved(page).locator('g.note').nth(3).hover({ force: true });
  await expect(foot).toContainText(/Click to select it/);
});

test('notes are entered on the page by pointer, into one part and into another', async ({ page, server, troubles }) => {
  await openDemo(page, server);
  await pageReady(page);
  await press(page, 'Home', 'Shift+D', '3');
  const place = entryPlace(page);
  await expect(caret(page)).toBeVisible();
  /** The middle of a bar's staff on the page, moved by so many steps up. */
  const pointOf = async (bar: number, staff: number, up: number) => {
    const lines = engraved(page).locator('g.measure').nth(bar).locator('g.staff').nth(staff).locator('> path');
    const boxes = await lines.evaluateAll((own) => own.map((line) => line.getBoundingClientRect().toJSON()));
    const [low, high] = [boxes[0], boxes[4]];
    if (!low || !high) throw new Error('no staff');
    const [bottom, top] = [Math.max(low.y, high.y), Math.min(low.y, high.y)];
    return [low.x + low.width - 4, (bottom + top) / 2 - (up * (bottom - top)) / 8] as const;
  };
  // The fourth beat of bar 4 in the flute, F major: the middle line is B flat.
  const [x, y] = await pointOf(3, 0, 0);
  const [across, height] = await pointOf(3, 1, 0);
  await page.mouse.move(x, y);
  const foot = page.getByRole('contentinfo');
  await expect(foot).toContainText('Flute: B♭4, bar 4 beat 4, quarter. A click enters it');
  await page.mouse.click(x, y);
  await expect(spokenWords(page)).toHaveText(/^Flute, B♭4, bar 4 beat 4, quarter/);
  await expect(place).toHaveText('Flute: bar 5 beat 1, quarter');
  // The clarinet reads a tone higher than it sounds: its middle line is B natural there, and sounds A.
  await page.mouse.click(across, height);
  await expect(spokenWords(page)).toHaveText(/^Clarinet in B flat, A4, bar 4 beat 4, quarter/);
  await expect(place).toHaveText('Clarinet in B flat: bar 5 beat 1, quarter');
  expect((await historyOf(page)).slice(1)).toEqual(['Enter: 1 note in Flute', 'Enter: 1 note in Clarinet in B flat']);
  // Out of it, a click on the page selects again.
  await press(page, 'Escape');
  await expect(caret(page)).toHaveCount(0);
  expect(troubles).toEqual([]);
});
