/** Whole pages: read, turned, followed, chosen from, printed, and taken away as PDF; and bar lines that are moved. */
import { readFileSync } from 'node:fs';
import { list, openDemo, outputPath, pageReady, press, scorePages, scorePlace } from './desk.js';
import { clean, expect, test } from './stage.js';

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

test('the score and all parts are taken away as PDF, with the names that were typed', async ({ page, server }) => {
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
    const file = outputPath(name);
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
}) => {
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
  const file = outputPath('loop.musicxml');
  await download.saveAs(file);
  const written = readFileSync(file, 'utf8');
  expect(written.match(/<measure /g)).toHaveLength(1);
  expect(written).toContain('<chromatic>-2</chromatic>');
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
