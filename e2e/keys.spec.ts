import { deskReady, openDemo, press, spokenWords } from '../journeys/desk.js';
import { expect, test } from '../journeys/stage.js';

test('several commands lie under one letter of a list of one’s own; all keys can be printed', async ({
  page,
  server,
  troubles,
}) => {
  await page.addInitScript(() => {
    window.print = () =>
      document.documentElement.setAttribute('data-printed', document.querySelector('.print-root')?.textContent ?? '');
  });
  await openDemo(page, server);
  await press(page, 'y', 'z');
  const keys = page.getByRole('region', { name: 'Keys' });
  await keys.getByRole('button', { name: 'Make a row' }).click();
  await keys.getByLabel('Letter of the row').fill('w');
  await keys.getByLabel('Name of the row').fill('All in view, in the dark');
  await keys.getByRole('button', { name: 'Keep the row' }).click();
  await expect(spokenWords(page)).toHaveText('A row needs a command: add one from those listed.');
  for (const words of ['light and dark', 'metronome']) {
    await keys.getByLabel('Search commands').fill(words);
    await keys
      .getByRole('button', { name: /^Add .* to the row$/ })
      .first()
      .click();
  }
  await keys.getByRole('button', { name: 'Keep the row' }).click();
  await expect(spokenWords(page)).toHaveText('All in view, in the dark: 9, W');
  await keys.getByRole('button', { name: 'Print all keys' }).click();
  await expect(page.locator('html')).toHaveAttribute(
    'data-printed',
    /Space.*Play or stop.*Turn between light and dark/,
  );
  await page.reload();
  await deskReady(page);
  await press(page, '9');
  await expect(page.getByRole('menu', { name: 'Your own' })).toBeVisible();
  await page.keyboard.press('w');
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  await expect(page.getByRole('button', { name: 'Metronome' })).toHaveAttribute('aria-pressed', 'true');
  expect(troubles).toEqual([]);
});
