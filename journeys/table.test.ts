/** The table: everything as rows, narrowed, sorted, edited in place by keyboard alone; the selection is the roll's. */
import { historyOf, openDemo, pageReady, press, spokenWords, table } from './desk.js';
import { clean, expect, type Page, test } from './stage.js';

const rows = (page: Page) => page.getByRole('grid').getByRole('row');

const status = (page: Page) => page.getByRole('region', { name: 'Table' }).getByRole('status');

test('notes are found, edited and deleted in the table by keyboard, and are selected on the Desk', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  await press(page, 'Shift+T');
  const grid = table(page);
  await expect(grid).toBeFocused();
  await expect(status(page)).toHaveText(/^\d{3,5} rows$/);
  expect(Number(await grid.getAttribute('aria-rowcount'))).toBeGreaterThan(779);
  await clean(page);
  const all = await status(page).textContent();
  await page.getByLabel('only what has a finding').check();
  await expect(status(page)).not.toHaveText(all ?? '');
  await expect(status(page)).toHaveText(/^[1-9]\d* rows?$/);
  await page.getByLabel('only what has a finding').uncheck();
  await expect(status(page)).toHaveText(all ?? '');
  // Narrowed to the notes of the flute in two bars.
  await page.getByLabel('Kind of row').selectOption('note');
  await page.getByLabel('Part', { exact: true }).selectOption('Flute');
  await page.getByLabel('Bars', { exact: true }).fill('2-3');
  await expect(status(page)).toHaveText(/^\d{1,2} rows$/);
  await grid.focus();
  await page.keyboard.press('ArrowDown');
  await expect(spokenWords(page)).toHaveText(/^Flute, [A-G].*, bar 2 beat \d.*, velocity \d+$/);
  // To the value, typed; then of several rows together.
  for (let step = 0; step < 5; step += 1) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await page.getByLabel('Value', { exact: true }).fill('101');
  await page.keyboard.press('Enter');
  await expect(spokenWords(page)).toHaveText('Loudness: 1 note in Flute');
  await expect(grid.locator('[id^="cell-1-5"]')).toHaveText('101');
  await page.keyboard.press('Control+a');
  await page.keyboard.press('F2');
  await page.getByLabel('Value', { exact: true }).fill('*0.5');
  await page.keyboard.press('Enter');
  await expect(spokenWords(page)).toHaveText(/^Loudness: \d+ notes in Flute$/);
  await page.keyboard.press('F2');
  await page.getByLabel('Value', { exact: true }).fill('loud');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^A velocity is a number/).first()).toBeVisible();
  // Sorted by what they are; one is chosen with the pointer, doubled and deleted.
  await page.getByRole('button', { name: 'What' }).click();
  await expect(page.getByRole('columnheader', { name: 'What' })).toHaveAttribute('aria-sort', /ascending|descending/);
  await rows(page).nth(1).getByRole('gridcell').first().click();
  await grid.focus();
  await page.keyboard.press('Control+d');
  await expect(spokenWords(page)).toHaveText('Double a row');
  await page.keyboard.press('Delete');
  await expect(spokenWords(page)).toHaveText('Delete a row');
  // Back on the Desk the selection is the same.
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('contentinfo')).toContainText(/\d+ notes selected/);
  expect((await historyOf(page)).slice(-1)).toEqual(['Delete a row']);
  expect(troubles).toEqual([]);
});
