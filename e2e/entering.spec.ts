/** Notes entered one after another: by letters, by the computer's keys, by clicks; taken back one by one. */
import { caret, engraved, entryPlace, historyOf, openDemo, pageReady, press, spokenWords } from '../journeys/desk.js';
import { expect, test } from '../journeys/stage.js';

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
