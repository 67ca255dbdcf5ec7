/** Lanes under the roll: drawn in by pointer and by keyboard, exact values, hold and ramp, a slowing that returns. */
import { engraved, historyOf, lane, list, openDemo, pageReady, press, spokenWords } from './desk.js';
import { expect, test } from './stage.js';

test('a passage slows down and the old tempo is there again at its end; the page says so', async ({ page, server }) => {
  await openDemo(page, server);
  await pageReady(page);
  const strip = engraved(page);
  await list(page, '8 t');
  await list(page, '8 s');
  const form = page.getByRole('region', { name: 'Slow down and return' });
  const to = form.getByLabel('To the end of bar');
  await to.fill('2');
  await to.press('Enter');
  const percent = form.getByLabel('Percent of the tempo');
  await percent.fill('50');
  await percent.press('Enter');
  await expect(form.getByRole('status')).toContainText(/The bars last \d+\.\d\d s instead of 5\.45 s/);
  await form.getByRole('button', { name: 'Slow down', exact: true }).click();
  await expect(spokenWords(page)).toHaveText('Slow down to ♩ = 44 and return');
  await expect(strip.getByText('rit.')).toBeVisible();
  await expect(strip.getByText('a tempo')).toBeVisible();
  await press(page, 'u');
  await expect(strip.getByText('rit.')).toHaveCount(0);
});

test('the ruler’s markers and tempi are edited in a list, and a new tempo can leave every note at its time', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  await list(page, '8 k');
  const places = page.getByRole('region', { name: 'Markers, meter, key, tempo' });
  await places.getByLabel('A marker at the playhead').fill('Opening');
  await places.getByRole('button', { name: 'Add' }).click();
  await expect(spokenWords(page)).toHaveText('Rename marker: Opening');
  const place = places.getByLabel('Place of marker Opening');
  await place.fill('2.1');
  await place.press('Enter');
  await expect(spokenWords(page)).toHaveText('Move marker: Opening');
  await expect(engraved(page).getByText('Opening')).toBeVisible();
  await places.getByRole('button', { name: 'Take away: marker Opening' }).click();
  await expect(engraved(page).getByText('Opening')).toHaveCount(0);
  const tempo = places.getByLabel(/^Tempo at 1\.1,/);
  await tempo.fill('9999');
  await tempo.press('Enter');
  await expect(page.getByText(/^A tempo is a number of quarters a minute/).first()).toBeVisible();
  await tempo.fill('96');
  await tempo.press('Enter');
  await expect(engraved(page).getByText('= 96')).toBeVisible();

  // The same in the lane, with the notes where they sound: bars move under them.
  await press(page, 'Escape', '.', '3');
  const start = page.getByLabel('Start', { exact: true });
  const before = await start.inputValue();
  await list(page, '8 t');
  await page.getByLabel('A change of tempo').selectOption('times');
  const own = lane(page, 'Tempo');
  await own.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowUp');
  await expect(spokenWords(page)).toHaveText(/; notes keep their time$/);
  await press(page, '.', '.', '.', '.');
  await expect(start).not.toHaveValue(before);
});

test('controllers go with their notes where that is switched on', async ({ page, server }) => {
  await openDemo(page, server);
  await pageReady(page);
  await list(page, '8 e');
  const own = lane(page, 'Controller 11 expression');
  await own.focus();
  await page.keyboard.press('Insert');
  await list(page, '8 c');
  await expect(page.getByRole('button', { name: 'Controllers too' })).toBeVisible();
  await press(page, '.');
  await press(page, 'ArrowRight');
  expect((await historyOf(page)).at(-1)).toBe('Move: 1 note in Flute, with 1 value of controllers');
});

test('in reach of all, a lane shows and changes every part: a line gives all of them its loudness', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  await list(page, '8 v');
  const own = lane(page, 'Velocity');
  await expect(own).toHaveAttribute('aria-label', /^Lane Velocity of Flute\./);
  await press(page, 'r');
  await expect(own).toHaveAttribute('aria-label', /^Lane Velocity of the 6 parts in reach\./);
  await page.getByRole('button', { name: 'Straight' }).click();
  const box = await own.boundingBox();
  if (!box) throw new Error('no lane');
  await page.mouse.move(box.x + 60, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + 400, box.y + 60, { steps: 5 });
  await page.mouse.up();
  await expect(spokenWords(page)).toHaveText(/^Velocity: \d+ notes in Clarinet in B flat, .*\d+ in Flute$/);
  await expect(async () => expect((await historyOf(page)).at(-1)).toMatch(/^Velocity: .* in Cello/)).toPass();
  await press(page, 'u');
  // All that a box takes hold of is typed at once.
  await page.getByRole('button', { name: 'Choose', exact: true }).click();
  await page.mouse.move(box.x + 40, box.y + 1);
  await page.mouse.down();
  await page.mouse.move(box.x + 200, box.y + box.height - 2, { steps: 5 });
  await page.mouse.up();
  const value = page.getByLabel('Value of the chosen points');
  await value.fill('*0.5');
  await value.press('Enter');
  await expect(async () =>
    expect((await historyOf(page)).at(-1)).toMatch(/^Velocity: .* in Cello.* in Flute/),
  ).toPass();
  expect(troubles).toEqual([]);
});
