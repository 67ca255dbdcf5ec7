import { deskReady, focusRoll, historyOf, openDemo, press, saved, spokenWords } from './desk.js';
import { clean, expect, test } from './stage.js';

test('a command is given another key, which another command loses; it holds after a reload, and goes back', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await press(page, 'y');
  await page.keyboard.press('z');
  const keys = page.getByRole('region', { name: 'Keys', exact: true });
  await keys.getByLabel('Search commands').fill('undo');
  await keys.getByRole('button', { name: /: another key for Undo$/ }).click();
  await page.keyboard.press('Tab');
  await expect(spokenWords(page)).toContainText('belongs to the browser');
  await page.keyboard.press('Backspace');
  await expect(keys.getByRole('alert')).toContainText('is the key of “Delete the selection”');
  await keys.getByRole('button', { name: 'Leave it' }).click();
  await keys.getByRole('button', { name: /: another key for Undo$/ }).click();
  await page.keyboard.press('l');
  await expect(keys.getByRole('button', { name: 'L, then a letter…' })).toBeVisible();
  await page.keyboard.press(';');
  await expect(spokenWords(page)).toHaveText('Undo: L, ;');
  await clean(page, { within: 'aside[aria-label="Panels"]' });
  await keys.press('Escape');

  await press(page, '.', 'ArrowUp');
  await expect(spokenWords(page)).not.toHaveText('');
  const before = (await historyOf(page)).length;
  await focusRoll(page);
  await page.keyboard.press('l');
  await page.keyboard.press(';');
  await expect(spokenWords(page)).toHaveText(/^Taken back: /);
  await saved(page);
  await page.reload();
  await deskReady(page);
  await press(page, 'Control+y');
  await expect(spokenWords(page)).toHaveText(/^Done again: /);
  // The key that it had does nothing any more.
  await press(page, 'Control+z');
  await expect(spokenWords(page)).toHaveText(/^Done again: /);
  expect((await historyOf(page)).length).toBe(before);
  await press(page, 'y');
  await page.keyboard.press('z');
  await expect(keys).toContainText('1 command with keys of your own.');
  await keys.getByRole('button', { name: 'The ready key of Undo again' }).click();
  await expect(keys).toContainText('0 commands with keys of your own.');
  await keys.press('Escape');
  await press(page, 'Control+z');
  await expect(spokenWords(page)).toHaveText(/^Taken back: /);
  expect(troubles).toEqual([]);
});
