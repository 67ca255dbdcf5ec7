/** Lanes under the roll: drawn in by pointer and by keyboard, exact values, hold and ramp, a slowing that returns. */
import { historyOf, lane, list, openDemo, pageReady, spokenWords } from '../journeys/desk.js';
import { clean, expect, test } from '../journeys/stage.js';

test('two lanes at once: a ramp is drawn by pointer, its points are moved, typed, held, and thinned', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  await list(page, '8 v');
  await list(page, '8 e');
  const velocity = lane(page, 'Velocity');
  const expression = lane(page, 'Controller 11 expression');
  await expect(velocity).toBeVisible();
  await clean(page, { but: '.engraved' });
  await page.getByRole('button', { name: 'Straight' }).click();
  await expression.scrollIntoViewIfNeeded();
  const box = await expression.boundingBox();
  if (!box) throw new Error('no lane');
  const drag = async (from: readonly [number, number], to: readonly [number, number]) => {
    await page.mouse.move(box.x + from[0], box.y + from[1] * box.height);
    await page.mouse.down();
    await page.mouse.move(box.x + to[0], box.y + to[1] * box.height, { steps: 6 });
    await page.mouse.up();
  };
  await drag([60, 0.8], [400, 0.2]);
  await expect(spokenWords(page)).toHaveText('Controller 11 expression: 2 points in Flute');
  // Both points are boxed, then set exactly; the first holds from now on.
  await page.getByRole('button', { name: 'Choose', exact: true }).click();
  await drag([20, 0.02], [440, 0.98]);
  await expect(page.getByText('2 points', { exact: true })).toBeVisible();
  const value = page.getByLabel('Value of the chosen points');
  await value.fill('*0,5');
  await value.press('Enter');
  await expect(value).toHaveAttribute('placeholder', /^\d+ to \d+$/);
  await value.fill('64');
  await value.press('Enter');
  await value.fill('500');
  await value.press('Enter');
  await expect(page.getByText('2 values held within 0 to 127.')).toBeVisible();
  await expect(value).toHaveAttribute('placeholder', '127');
  await value.fill('64');
  await value.press('Enter');
  await expect(value).toHaveAttribute('placeholder', '64');
  await value.fill('loud');
  await value.press('Enter');
  await expect(page.getByText(/^A value is a number, or/)).toBeVisible();
  await page.getByLabel('Place of the first chosen point').fill('2.1');
  await page.getByLabel('Place of the first chosen point').press('Enter');
  await expect(page.getByLabel('Place of the first chosen point')).toHaveAttribute('placeholder', '2.1.0');
  await page.getByRole('button', { name: 'Hold', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Ramp', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Thin', exact: true }).click();
  // By keyboard: from point to point, up by one, a new one at the playhead, away with it.
  await expression.focus();
  await page.keyboard.press('Escape');
  await page.keyboard.press('ArrowRight');
  await expect(spokenWords(page)).toHaveText(/^Controller 11 expression 64, bar \d/);
  await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Insert');
  await expect(spokenWords(page)).toHaveText(/at the playhead$/);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Delete');
  await expect(spokenWords(page)).toHaveText('Delete in Controller 11 expression: 1 point in Flute');
  // In the other lane a line gives the notes their velocity.
  await velocity.scrollIntoViewIfNeeded();
  await page.getByRole('button', { name: 'Straight' }).click();
  const stems = await velocity.boundingBox();
  if (!stems) throw new Error('no lane');
  await page.mouse.move(stems.x + 5, stems.y + stems.height - 12);
  await page.mouse.down();
  await page.mouse.move(stems.x + 300, stems.y + 12, { steps: 4 });
  await page.mouse.up();
  await expect(spokenWords(page)).toHaveText(/^Velocity: \d+ notes in Flute$/);
  // All of it is in the history, and the lanes are there again after a reload.
  expect((await historyOf(page)).length).toBeGreaterThan(6);
  await page.reload();
  await pageReady(page);
  await expect(lane(page, 'Velocity')).toBeVisible();
  await list(page, '8 x');
  await expect(lane(page, 'Velocity')).toHaveCount(0);
  expect(troubles).toEqual([]);
});
