/** The table: everything as rows, narrowed, sorted, edited in place by keyboard alone; the selection is the roll's. */
import { openDemo, pageReady, press, spokenWords } from '../journeys/desk.js';
import { expect, type Page, test } from '../journeys/stage.js';

const rows = (page: Page) => page.getByRole('grid').getByRole('row');

const status = (page: Page) => page.getByRole('region', { name: 'Table' }).getByRole('status');

test('what is of the piece stands in it too: a marker and a tempo are changed in place', async ({ page, server }) => {
  await openDemo(page, server);
  await pageReady(page);
  await press(page, 'Shift+T');
  await page.getByLabel('Kind of row').selectOption('marker');
  await page.getByLabel('Words', { exact: true }).fill('swung');
  await expect(status(page)).toHaveText('1 row');
  await rows(page).nth(1).getByRole('gridcell').nth(5).dblclick();
  await page.getByLabel('Value', { exact: true }).fill('B, straight');
  await page.keyboard.press('Enter');
  await expect(spokenWords(page)).toHaveText('Rename marker: B, straight');
  await page.getByLabel('Words', { exact: true }).fill('nothing of the kind');
  await expect(page.getByText('There is no such row. Narrow it less.')).toBeVisible();
  await page.getByLabel('Words', { exact: true }).fill('');
  await page.getByLabel('Kind of row').selectOption('tempo');
  await rows(page).nth(1).getByRole('gridcell').nth(5).dblclick();
  await page.getByLabel('Value', { exact: true }).fill('+10');
  await page.keyboard.press('Enter');
  await expect(spokenWords(page)).toHaveText(/^Tempo/);
  // A row of one's own, where the chosen cell stands; and what checks noticed is said with a row.
  await page.getByLabel('Add a row at this place').selectOption('note');
  await expect(spokenWords(page)).toHaveText('Add a row: note');
  await page.getByLabel('Only what has a finding', { exact: false }).check();
  await rows(page).nth(1).getByRole('gridcell').nth(4).click();
  await expect(spokenWords(page)).toHaveText(/velocity \d+\. \S+ /);
});
