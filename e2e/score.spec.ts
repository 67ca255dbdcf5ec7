/** Whole pages: read, turned, followed, chosen from, printed, and taken away as PDF; and bar lines that are moved. */
import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import {
  bringInTune,
  clean,
  list,
  openDemo,
  pageReady,
  panel,
  press,
  roll,
  scorePages,
  scorePlace,
  spokenWords,
  test,
} from './desk.js';

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

test('a reload stays in the score view, and the bar that plays is marked', async ({ page, server }) => {
  await openDemo(page, server);
  await pageReady(page);
  await list(page, 'y c');
  await expect(scorePlace(page)).toHaveText('page 1 of 2');
  await page.reload();
  await expect(scorePlace(page)).toHaveText('page 1 of 2', { timeout: 20_000 });
  await scorePages(page).press('Space');
  await expect(page.locator('g.measure.playing')).toHaveCount(1);
  await scorePages(page).press('Space');
  await expect(page.locator('g.measure.playing')).toHaveCount(0);
});

test('the score and all parts are taken away as PDF, with the names that were typed', async ({
  page,
  server,
}, info) => {
  await openDemo(page, server);
  await press(page, 'Shift+X');
  await page.getByLabel('Composer').fill('A. Made-up');
  await page.getByLabel('Paper').selectOption('letter');
  for (const [button, name, starts] of [
    ['The score as PDF', 'Saltmarsh Lanterns.pdf', '%PDF-'],
    ['Each part as PDF, in one zip', 'Saltmarsh Lanterns, parts.zip', 'PK'],
  ] as const) {
    const [download] = await Promise.all([
      page.waitForEvent('download', { timeout: 60_000 }),
      page.getByRole('button', { name: button }).click(),
    ]);
    expect(download.suggestedFilename()).toBe(name);
    const file = info.outputPath(name);
    await download.saveAs(file);
    expect(readFileSync(file).subarray(0, starts.length).toString()).toBe(starts);
  }
  // The choice is remembered.
  await page.reload();
  await press(page, 'Shift+X');
  await expect(page.getByLabel('Composer')).toHaveValue('A. Made-up');
  await expect(page.getByLabel('Paper')).toHaveValue('letter');
});

test('a part is chosen for another instrument, stands in its key, and its reader is told what will be found', async ({
  page,
  server,
}, info) => {
  await openDemo(page, server);
  await pageReady(page);
  await press(page, 'Shift+P');
  await page.getByLabel('Front part only').check();
  const signature = page.locator('[data-page="1"] g.keySig').first().locator('path');
  // The flute reads one flat; a clarinet reads one sharp for the same sound.
  await expect(signature).toHaveAttribute('data-sign', 'E260');
  await page.getByLabel('Instrument of Flute').selectOption({ label: 'Clarinet in B♭' });
  await expect(signature).toHaveAttribute('data-sign', 'E262');
  await scorePages(page).press('Escape');

  // The first note, and a loop about it.
  await press(page, '.');
  await list(page, 'k s');
  await press(page, 'Shift+X');
  const about = page.getByRole('region', { name: 'What a reader will find' });
  await expect(about).toContainText('40 bars, 6 parts');
  await page.getByLabel('The front part only: Flute').check();
  await expect(about).toContainText('40 bars, 1 part,');
  await page.getByLabel(/^The loop: bar/).check();
  await expect(about).toContainText('1 bar, 1 part,');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'MusicXML', exact: true }).click(),
  ]);
  const file = info.outputPath('loop.musicxml');
  await download.saveAs(file);
  const written = readFileSync(file, 'utf8');
  expect(written.match(/<measure /g)).toHaveLength(1);
  expect(written).toContain('<chromatic>-2</chromatic>');
});

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

test('two plans of a part stand side by side, and one is taken', async ({ page, server }) => {
  await openDemo(page, server);
  await pageReady(page);
  await page.getByRole('button', { name: 'Compare', exact: true }).click();
  const dialog = page.getByRole('dialog');
  const [one, other] = [
    dialog.getByRole('region', { name: 'One plan' }),
    dialog.getByRole('region', { name: 'Another plan' }),
  ];
  await expect(one).toContainText('140 notes written');
  await expect(one.getByRole('button')).toBeDisabled();
  await other.getByRole('combobox').selectOption({ label: 'Percussion' });
  await expect(other).not.toContainText('140 notes written');
  await expect(other.locator('g.note').first()).toBeAttached();
  await clean(page, { but: '.engraved' });
  await other.getByRole('button', { name: 'Take this plan' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByLabel('Plan of the part')).toHaveValue('ready percussion');
  await press(page, 'u');
  await expect(page.getByLabel('Plan of the part')).toHaveValue('suggested');
});
