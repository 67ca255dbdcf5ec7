import { expect } from '@playwright/test';
import { clean, deskReady, openDemo, pageReady, press, test } from './desk.js';

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

test.describe('at the first visit', () => {
  test.use({ firstVisit: true });

  test('a tour of five steps is offered on the demo, once, and is never in the way', async ({
    page,
    server,
    troubles,
  }) => {
    await openDemo(page, server);
    await pageReady(page);
    const tour = page.getByRole('region', { name: 'Tour' });
    await expect(tour).toContainText('1 of 5');
    // Keys and pointer work on: it only stands there.
    await press(page, 'n');
    await expect(tour).toContainText('All parts in one view');
    await clean(page, { within: '[aria-label="Tour"]' });
    for (const at of [2, 3, 4, 5]) {
      await tour.getByRole('button', { name: 'Next' }).click();
      await expect(tour).toContainText(`${at} of 5`);
    }
    await expect(page.getByRole('tab', { name: 'Findings' })).toHaveAttribute('aria-selected', 'true');
    await tour.getByRole('button', { name: 'To work' }).click();
    await expect(tour).toHaveCount(0);
    await page.reload();
    await deskReady(page);
    await expect(tour).toHaveCount(0);
    await press(page, 'y', 'x');
    await expect(tour).toContainText('1 of 5');
    expect(troubles).toEqual([]);
  });
});
