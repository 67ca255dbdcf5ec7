/** Whole pages: read, turned, followed, chosen from, printed, and taken away as PDF; and bar lines that are moved. */
import {
  list,
  openDemo,
  pageReady,
  panel,
  press,
  roll,
  scorePages,
  scorePlace,
  spokenWords,
} from '../journeys/desk.js';
import { bringInTune } from '../journeys/music.js';
import { clean, expect, type Page, test } from '../journeys/stage.js';

test('the score is read page by page, a head is chosen, a part stands alone, and it goes to the printer', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  await press(page, 'Shift+P');
  const pages = scorePages(page);
  const place = scorePlace(page);
  await expect(place).toHaveText('page 1 of 2');
  await expect(page).toHaveURL(/\/desk\/\w+\/score$/);
  const first = page.locator('[data-page="1"]');
  await expect(first.getByText('Saltmarsh Lanterns')).toBeVisible();
  await expect(first.locator('g.measure')).not.toHaveCount(0);
  await clean(page, { but: '.score-page svg' });

  await pages.press('PageDown');
  await expect(place).toHaveText('page 2 of 2');
  await expect(spokenWords(page)).toHaveText('Page 2 of 2.');
  await pages.press('Home');
  await expect(place).toHaveText('page 1 of 2');
  // The whole page fits the window.
  await pages.press('0');
  await expect.poll(async () => (await first.boundingBox())?.height ?? 9999).toBeLessThan(700);
  await pages.press('+');
  await expect(page.getByLabel('Size of pages')).toHaveValue('own');

  // A head of the clarinet is chosen here, and is the Desk's selection.
  const head = first.locator('g.note').nth(20);
  await head.click();
  await expect(head).toHaveClass(/chosen/);
  await expect(page.locator('footer')).toContainText('1 note selected');

  // In concert pitch the clarinet has the flute's signature, and nobody's page needs a second one.
  const flats = async () => first.locator('g.keySig').first().locator('path').count();
  const before = await flats();
  await page.getByRole('button', { name: 'Page set-up' }).click();
  await page.getByLabel('Pitch').selectOption('concert');
  await page.getByLabel('Score order').selectOption('families');
  await page.keyboard.press('Escape');
  await expect.poll(async () => first.locator('g.keySig').nth(1).locator('path').count()).toBe(before);
  await expect(first.locator('g.label').first()).toContainText('Flute');
  await page.getByRole('button', { name: 'Page set-up' }).click();
  await page.getByLabel('Pitch').selectOption('written');
  await page.keyboard.press('Escape');

  await page.getByLabel('Front part only').check();
  await expect(panelHeading(page, 'Score')).toHaveText('Clarinet in B flat');
  await expect(place).toHaveText('page 1 of 1');
  await expect(first.getByText('Clarinet in B flat')).toHaveCount(1);

  await page.evaluate(() => {
    window.print = () =>
      document.body.setAttribute('data-printed', String(document.querySelectorAll('.print-page').length));
  });
  await page.getByRole('button', { name: 'Print' }).click();
  await expect(page.locator('body')).toHaveAttribute('data-printed', '1');

  await pages.press('Escape');
  await expect(roll(page)).toBeVisible();
  await expect(page.locator('footer')).toContainText('1 note selected');
  expect(troubles).toEqual([]);
});

/** The heading of a region. */
const panelHeading = (page: Page, name: string) =>
  page.getByRole('region', { name, exact: true }).getByRole('heading').first();

test('a pickup that hides in bar 1 is offered, moves the bar lines, and is undone', async ({ page, server }) => {
  await bringInTune(page, server, 'Auld Lang Syne');
  const header = panel(page, 'Page').locator('header');
  await expect(header).toContainText('bars 1 to');
  await press(page, 'j');
  await expect(page.getByText(/seems to begin with a pickup of a quarter/).first()).toBeVisible();
  await press(page, 'f');
  await page.keyboard.press('m');
  await expect(header).toContainText('bars 0 to');
  await press(page, 'u');
  await expect(header).toContainText('bars 1 to');
  // By key, where the first bar is padded: this one begins with its first note.
  await list(page, 'g u');
  await expect(spokenWords(page)).toContainText('there is no pickup to be made of it');
});
