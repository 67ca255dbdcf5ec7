/** Several parts, edited as one: by key, by hand, by field, from window to window. */

import { historyOf, openDemo, press, roll, saved, spokenWords } from '../journeys/desk.js';
import { expect, type Page, test } from '../journeys/stage.js';

const settings = (page: Page, name: string) => page.getByRole('region', { name, exact: true });

test('notes go from one window to another through the clipboard, parts kept apart', async ({
  page,
  server,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openDemo(page, server);
  await press(page, 'r', 'a', 'b', 'c');
  await expect(spokenWords(page)).toHaveText('779 notes copied.');
  const other = await context.newPage();
  await openDemo(other, server);
  await press(other, 'Control+v');
  await expect.poll(() => historyOf(other)).toContainEqual(expect.stringMatching(/^Paste: 164 notes in Flute, 164 in/));
  await saved(other);
  // A text that is not ours is told, and nothing happens.
  await other.evaluate(() => navigator.clipboard.writeText('{"format":"something else"}'));
  await press(other, 'b', 'v');
  await expect(other.getByText('no notes from Crisp Fold').first()).toBeVisible();
  expect((await historyOf(other)).length).toBe(2);
});

test('the fields of mixed notes take a factor, say what is wrong, and Esc takes back', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, 'r', 'a', '3');
  const velocity = page.getByLabel('Velocity', { exact: true });
  await expect(velocity).toHaveValue(/^\d+ to \d+$/);
  const before = (await velocity.inputValue()).split(' to ').map(Number);
  await velocity.fill('*0');
  await expect(page.getByRole('alert')).toContainText('makes no sense here');
  await page.keyboard.press('Escape');
  await expect(velocity).toHaveValue(before.join(' to '));
  await velocity.fill('*0.5');
  await page.keyboard.press('Enter');
  await expect(velocity).toHaveValue(before.map((value) => Math.round(value / 2)).join(' to '));
  await velocity.fill('+100');
  await expect(page.getByRole('status').filter({ hasText: 'kept within what can be' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByLabel('Start', { exact: true }).fill('bar 9999');
  await expect(page.getByRole('alert')).toContainText('A place is a bar, a beat and ticks');
  await page.keyboard.press('Escape');
  await expect
    .poll(() => historyOf(page))
    .toEqual(['As brought in', expect.stringMatching(/^Loudness: 164 notes in Flute, 164/)]);
});

test('a step that is tried is heard without and with; with nothing selected it offers what may be meant', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await press(page, 'q');
  const offer = page.getByRole('region', { name: 'Quantize starts on what?' });
  await expect(offer.getByRole('button', { name: 'all 779 of the 6 shown parts' })).toBeVisible();
  await offer.getByRole('button', { name: 'all 164 of Flute' }).click();
  await expect
    .poll(() => historyOf(page))
    .toContainEqual(expect.stringMatching(/^Quantize starts: \d+ notes in Flute$/));
  // A few notes, as all of it is heard twice.
  await press(page, 'u', 'Escape', '.', 'Shift+.', 'Shift+.', 'Shift+.', 'Shift+.', 't', 'Shift+Q');
  const panel = settings(page, 'Quantize starts');
  await expect(panel.getByRole('button', { name: /^Quantize starts · [1-9]/ })).toBeVisible();
  // Beside the roll, not over it.
  const [beside, over] = [await panel.boundingBox(), await roll(page).boundingBox()];
  expect(beside && over && beside.x >= over.x + over.width).toBe(true);
  await press(page, 'k', 'w');
  await expect(spokenWords(page)).toHaveText('without');
  await expect(spokenWords(page)).toHaveText('with', { timeout: 60_000 });
  await press(page, 'Space');
});
