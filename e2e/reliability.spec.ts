/** Nothing lost: refusals, lost answers, taking away and bringing back, a backup, the history after a reload. */
import { readFile } from 'node:fs/promises';
import { demoMidi } from '@crispfold/core';
import { deskReady, historyOf, openDemo, press, saved, saveState } from '../journeys/desk.js';
import { expect, test } from '../journeys/stage.js';

test('a change that the server will not take is told, can be taken back, and the rest is saved', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await page.route('**/journal', async (route) => {
    const body = route.request().postData() ?? '';
    if (!body.includes('"Mute')) return route.continue();
    return route.fulfill({
      status: 400,
      contentType: 'application/json',
      body: JSON.stringify({ error: { code: 'invalid', message: 'A name has too many letters.' } }),
    });
  });
  await press(page, 'Period', 'ArrowUp');
  await saved(page);
  await press(page, 'm');
  const bar = page.getByRole('alert').filter({ hasText: 'could not be saved' });
  await expect(bar).toContainText('A name has too many letters.');
  await expect(saveState(page)).toHaveText('Not saved.');
  await press(page, 'ArrowUp');
  const [copy] = await Promise.all([
    page.waitForEvent('download'),
    bar.getByRole('button', { name: 'Download a copy' }).click(),
  ]);
  expect(copy.suggestedFilename()).toBe('Saltmarsh Lanterns, rescued.mid');
  expect((await readFile(await copy.path())).subarray(0, 4).toString()).toBe('MThd');
  await bar.getByRole('button', { name: 'Take it back, save the rest' }).click();
  await saved(page);
  await expect(bar).toHaveCount(0);
  const labels = await historyOf(page);
  expect(labels.filter((label) => label.startsWith('Mute'))).toEqual([]);
  expect(labels.filter((label) => label.startsWith('Transpose'))).toHaveLength(2);
});

test('an answer that is lost on its way is no second change, and no other window', async ({ page, server }) => {
  await openDemo(page, server);
  let lost = 0;
  await page.route('**/journal', async (route) => {
    if (lost > 0) return route.continue();
    lost += 1;
    await route.fetch();
    return route.abort();
  });
  await press(page, 'Period', 'ArrowUp');
  await expect(saveState(page)).toContainText('Not saved yet');
  await saved(page);
  expect(lost).toBe(1);
  await page.reload();
  await deskReady(page);
  expect((await historyOf(page)).filter((label) => label.startsWith('Transpose'))).toHaveLength(1);
});

test('reading files can be given up', async ({ page, server }) => {
  await page.goto(server.address);
  await page.route('**/api/arrangements', async (route) => {
    if (route.request().method() !== 'POST') return route.continue();
    // As slow as a file can be.
    await new Promise((resolve) => setTimeout(resolve, 20_000));
    return route.abort().catch(() => undefined);
  });
  await page
    .getByLabel('MIDI files', { exact: true })
    .setInputFiles({ name: 'a.mid', mimeType: 'audio/midi', buffer: Buffer.from(demoMidi()) });
  await expect(page.getByRole('progressbar', { name: 'Reading the files' })).toBeVisible();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('button', { name: 'Choose files' })).toBeVisible();
  await page.unrouteAll({ behavior: 'ignoreErrors' });
});

test('a person signs in once, with whatever letters the token has, and works', async ({ page, server, context }) => {
  await server.stop();
  await server.start({ CRISPFOLD_TOKEN: 'ge+he/im= %ü' });
  await page.goto(server.address);
  const token = page.getByLabel('Access token');
  await token.fill('something else');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toHaveText('That is not the token.');
  await token.fill('ge+he/im= %ü');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('link', { name: 'Saltmarsh Lanterns' }).click();
  await deskReady(page);
  await press(page, 'a', 'ArrowUp');
  await saved(page);
  // Ids are of letters too: no piece of one has a slash or a plus.
  expect(decodeURIComponent(page.url())).not.toMatch(/ge\+|he\/im/);
  expect(await context.cookies()).toMatchObject([{ name: 'crispfold', httpOnly: true, sameSite: 'Strict' }]);
  await page.getByRole('link', { name: 'Library' }).click();
  await page.getByRole('button', { name: 'Sign out…' }).click();
  const asked = page.getByRole('dialog', { name: 'Sign out' });
  await expect(asked).toContainText('Everything is saved.');
  await asked.getByRole('button', { name: 'Sign out', exact: true }).click();
  await expect(token).toBeVisible();
  await page.goto(server.address);
  await expect(token).toBeVisible();
});

test('changes that the server never got are kept by the browser, and come back after the tab has ended', async ({
  page,
  server,
  context,
}) => {
  await openDemo(page, server);
  const address = page.url();
  await press(page, 'Period', 'ArrowUp');
  await saved(page);
  await server.stop();
  for (let change = 0; change < 10; change += 1) await press(page, 'ArrowUp');
  await expect(saveState(page)).toContainText('Not saved yet');
  await page.close({ runBeforeUnload: false });
  await server.start();

  const again = await context.newPage();
  await again.goto(address);
  const asked = again.getByRole('dialog', { name: 'Changes that were not saved' });
  await expect(asked).toContainText(/^.*10 changes from \d\d:\d\d did not reach the server/);
  await asked.getByRole('button', { name: 'Bring them back' }).click();
  await expect(asked).toHaveCount(0);
  await saved(again);
  expect((await historyOf(again)).filter((label) => label.startsWith('Transpose'))).toHaveLength(11);
  await again.reload();
  await deskReady(again);
  expect((await historyOf(again)).filter((label) => label.startsWith('Transpose'))).toHaveLength(11);
  await expect(asked).toHaveCount(0);
});

test('an arrangement that was put in the bin meanwhile takes no change, and none is lost', async ({ page, server }) => {
  await openDemo(page, server);
  const at = page.url().replace('/desk/', '/api/arrangements/');
  expect((await page.request.delete(at)).status()).toBe(204);
  await press(page, 'Period', 'ArrowUp');
  const bar = page.getByRole('alert').filter({ hasText: 'put in the bin' });
  await bar.getByRole('button', { name: 'Bring it back and save' }).click();
  await saved(page);
  await expect(bar).toHaveCount(0);
  await page.reload();
  await deskReady(page);
  expect((await historyOf(page)).filter((label) => label.startsWith('Transpose'))).toHaveLength(1);
});
