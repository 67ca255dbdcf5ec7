import { openDemo } from './desk.js';
import { clean, expect, test } from './stage.js';

test('the library is searched, put in order and tagged; several go to the bin, come back, and one goes for good', async ({
  page,
  server,
  troubles,
}) => {
  await page.goto(server.address);
  const list = page.getByRole('list', { name: 'Arrangements' });
  const titles = () => list.getByRole('link').allTextContents();
  for (const [index, name] of ['March', 'Étude 10', 'Étude 9'].entries()) {
    await page.getByRole('button', { name: 'Duplicate Saltmarsh Lanterns', exact: true }).click();
    await expect(list.getByRole('listitem')).toHaveCount(index + 3);
    await page.getByRole('button', { name: 'Rename Saltmarsh Lanterns, copy' }).click();
    await page.getByLabel('New title').fill(name);
    await page.getByLabel('New title').press('Enter');
    await expect(list.getByRole('link', { name, exact: true })).toBeVisible();
  }
  await page.getByLabel('Order').selectOption({ label: 'by title' });
  expect(await titles()).toEqual(['Étude 9', 'Étude 10', 'Lantern Prelude', 'March', 'Saltmarsh Lanterns']);

  await page.getByRole('button', { name: 'Tags of Étude 9' }).click();
  await page.getByLabel('Tags of Étude 9, between commas').fill('Quartet, spring');
  await page.getByLabel('Tags of Étude 9, between commas').press('Enter');
  await page.getByRole('button', { name: 'spring' }).click();
  await expect.poll(titles).toEqual(['Étude 9']);
  await page.getByLabel('Tag', { exact: true }).selectOption({ label: 'all tags' });

  await page.getByLabel('Search the library').fill('etude');
  await expect.poll(titles).toEqual(['Étude 9', 'Étude 10']);
  await page.getByLabel('Search the library').fill('no such piece');
  await expect(page.getByText('Nothing here has all of these words.')).toBeVisible();
  await page.getByLabel('Search the library').fill('');

  await page.getByLabel('Choose March').check();
  await page.getByLabel('Choose Étude 10').check();
  await expect(page.getByText('2 arrangements chosen')).toBeVisible();
  await page.getByRole('button', { name: 'Delete them' }).click();
  await expect.poll(titles).toEqual(['Étude 9', 'Lantern Prelude', 'Saltmarsh Lanterns']);
  await page.getByRole('button', { name: 'Bin' }).click();
  await page.getByRole('button', { name: 'Bring March back' }).click();
  await page.getByRole('button', { name: 'Delete Étude 10 for good' }).click();
  await clean(page);
  await page.getByRole('button', { name: 'Yes, with its history' }).click();
  await expect(page.getByText('The bin is empty.')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the arrangements' }).click();
  await expect.poll(titles).toEqual(['Étude 9', 'Lantern Prelude', 'March', 'Saltmarsh Lanterns']);
  await clean(page);
  expect(troubles).toEqual([]);
});

test('the library says at a glance what is open in an arrangement, and what there is to read', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  const told = page.waitForResponse((response) => response.url().endsWith('/glance') && response.ok());
  await told;
  await page.getByRole('link', { name: '← Library' }).click();
  const row = page.getByRole('listitem').filter({ hasText: 'Saltmarsh Lanterns' });
  await expect(row).toContainText(/\d+ findings.* · \d+(\.\d)? signs a bar to read, \d+(\.\d)? as played$/m);
  await expect(row).not.toContainText('changed since');
});
