/** Nothing lost: refusals, lost answers, taking away and bringing back, a backup, the history after a reload. */
import { readFile } from 'node:fs/promises';
import { deskReady, historyOf, openDemo, press, saved } from './desk.js';
import { expect, test } from './stage.js';

test('after a reload each change can be undone and done again, though the list holds names alone', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await press(page, 'a', 'ArrowUp', 'Shift+ArrowUp', 'Period', 'Delete');
  await saved(page);
  const before = await historyOf(page);
  await page.reload();
  await deskReady(page);
  expect(await historyOf(page)).toEqual(before);
  await press(page, 'u', 'u', 'u');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await press(page, 'Shift+U');
  await saved(page);
  await press(page, 'a');
  await expect(page.getByRole('contentinfo')).toContainText('164 notes selected');
});

test('an arrangement is taken away with its history and comes back; the library is backed up', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await press(page, 'Period', 'ArrowUp');
  await saved(page);
  await page.getByRole('link', { name: 'Library' }).click();
  const [taken] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Take Saltmarsh Lanterns away with its history' }).click(),
  ]);
  expect(taken.suggestedFilename()).toBe('Saltmarsh Lanterns.crispfold.zip');
  const [backup] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Back up', exact: true }).click(),
  ]);
  expect(backup.suggestedFilename()).toMatch(/^crispfold-\d{4}-\d{2}-\d{2}\.sqlite$/);
  expect((await readFile(await backup.path())).subarray(0, 15).toString()).toBe('SQLite format 3');
  const files = page.getByLabel('MIDI files', { exact: true });
  await files.setInputFiles({ name: 'broken.zip', mimeType: 'application/zip', buffer: Buffer.from('no zip') });
  await expect(page.getByText('This is no arrangement taken away from Crisp Fold', { exact: false })).toBeVisible();
  await files.setInputFiles({
    name: 'Saltmarsh Lanterns.crispfold.zip',
    mimeType: 'application/zip',
    buffer: await readFile(await taken.path()),
  });
  await deskReady(page);
  expect((await historyOf(page)).at(-1)).toMatch(/^Transpose/);
  await press(page, 'u');
  await saved(page);
});
