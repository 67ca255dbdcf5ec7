import { deskReady, historyOf, pageReady, press } from './desk.js';
import { bringInTake } from './music.js';
import { expect, test } from './stage.js';

test('the tempo does not fit, and is taken from the take by the finding', async ({ page, server, troubles }) => {
  await bringInTake(page, server);
  await press(page, '2');
  const panel = page.getByRole('region', { name: 'Findings' });
  const item = panel.getByRole('listitem').filter({ hasText: 'beats of the take lie elsewhere' });
  await expect(item).toBeVisible();
  await item.getByRole('button').first().click();
  await page
    .getByRole('button', { name: /^Take the tempo from the take/ })
    .first()
    .click();
  await expect(item).toHaveCount(0);
  expect((await historyOf(page)).at(-1)).toMatch(/^Take the tempo from the take: The tempo does not fit/);
  await press(page, 'u');
  await press(page, '2');
  await expect(item).toBeVisible();
  expect(troubles).toEqual([]);
});

test('listening to a long take says how far it is, and is given up', async ({ page, server, troubles }) => {
  await page.goto(server.address);
  await page.locator('input[type="file"]').first().setInputFiles('/usr/share/planetblupi/music/music009.mid');
  await deskReady(page);
  await pageReady(page);
  await press(page, '8', 'g');
  const panel = page.getByRole('region', { name: 'Tempo from the take' });
  await panel.getByRole('button', { name: 'Find the beats' }).click();
  const listening = panel.getByRole('progressbar', { name: 'Listening for beats' });
  await expect(listening).toHaveAttribute('value', /^0\.\d/);
  await panel.getByRole('button', { name: 'Cancel' }).click();
  await expect(listening).toHaveCount(0);
  await expect(panel.getByRole('status')).toHaveCount(0);
  await panel.getByRole('button', { name: 'Find the beats' }).click();
  await expect(panel.getByRole('status')).toHaveText(/^[\d,]+ beats/, { timeout: 60_000 });
  expect(troubles).toEqual([]);
});
