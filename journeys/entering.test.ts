/** Notes entered one after another: by letters, by the computer's keys, by clicks; taken back one by one. */
import {
  engraved,
  entryPlace,
  historyOf,
  lookAtNextNote,
  openDemo,
  pageReady,
  press,
  roll,
  spokenWords,
} from './desk.js';
import { clean, expect, test } from './stage.js';

test('a tune is entered by letters and values, stands in roll and page, and is taken back note by note', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  // Into the flute at bar 1, over what stands there.
  await press(page, 'Home', 'Shift+D');
  const bar = page.getByRole('region', { name: 'Note by note' });
  await expect(bar).toBeVisible();
  const place = entryPlace(page);
  await expect(place).toHaveText(/^Flute: bar 1 beat 1,/);
  await clean(page, { but: '.engraved' });
  await press(page, '3', 'f', 'g', 'a');
  await expect(spokenWords(page)).toHaveText(/^Flute, A\d, bar 1 beat 3, quarter/);
  await expect(place).toHaveText('Flute: bar 1 beat 4, quarter');
  // A dotted eighth, a rest, a tone that joins the chord, a tie, a triplet.
  await press(page, '4', '.', 'b');
  await expect(spokenWords(page)).toHaveText(/^Flute, B♭\d, bar 1 beat 4, dotted eighth/);
  await press(page, '.', '5', '0', 'c', 'Shift+E', '-', '/', 'd');
  await expect(spokenWords(page)).toHaveText(/sixteenth of a triplet/);
  await press(page, 'ArrowUp');
  await expect(spokenWords(page)).toHaveText('Transpose: 1 note in Flute');
  expect((await historyOf(page)).slice(1)).toEqual([
    ...Array<string>(6).fill('Enter: 1 note in Flute'),
    'Tie: 2 notes in Flute',
    'Enter: 1 note in Flute',
    'Transpose: 1 note in Flute',
  ]);
  // Taken back, one by one, to the first note.
  for (let steps = 0; steps < 9; steps += 1) await press(page, 'Backspace');
  await expect(place).toHaveText('Flute: bar 1 beat 2, quarter');
  // The computer's keys as a keyboard, and a click on the one on the screen.
  await bar.getByLabel('Computer keys as a keyboard').check();
  await press(page, 'g');
  await expect(spokenWords(page)).toHaveText(/^Flute, G4, bar 1 beat 2/);
  await bar.getByRole('button', { name: /^Key 5: E4/ }).click();
  await expect(spokenWords(page)).toHaveText(/^Flute, E4, bar 1 beat 3/);
  await press(page, 'Escape');
  await expect(bar).toHaveCount(0);
  // Letters are commands again.
  await press(page, 'a');
  await expect(page.getByRole('contentinfo')).toContainText(/\d+ notes selected/);
  expect(troubles).toEqual([]);
});

test('what stands under the pointer, and where a note would go, is said before the click', async ({ page, server }) => {
  await openDemo(page, server);
  await pageReady(page);
  const foot = page.getByRole('contentinfo');
  const [x, y] = await lookAtNextNote(page);
  await page.mouse.move(x, y);
  await expect(foot).toContainText(/Flute, [A-G].*bar \d+ beat \d.*Drag/);
  await press(page, 'd');
  const box = await roll(page).boundingBox();
  await page.mouse.move((box?.x ?? 0) + 300, (box?.y ?? 0) + 260);
  await expect(foot).toContainText(/Would go there: Flute, [A-G].*, bar \d+ beat \d.*sixteenth/);
  // The page is engraved anew for what the roll shows now.
  await expect(async () => {
    await engraved(page).locator('g.note').nth(3).hover({ force: true });
    await expect(foot).toContainText(/Click to select it/, { timeout: 1000 });
  }).toPass();
});
