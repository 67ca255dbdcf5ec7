/** The page corrected by hand: by key and by pointer, through another plan and a restart, listed and taken back. */
import { engraved, list, openDemo, pageReady, press, spokenWords } from '../journeys/desk.js';
import { expect, test } from '../journeys/stage.js';

test('the page is held while the playing is shaped, and a clef and a system begin where a person says', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  const strip = engraved(page);
  await press(page, 'y');
  await page.keyboard.press('f');
  await press(page, 'a');
  await list(page, '7 w');
  await expect(spokenWords(page)).toHaveText(/^Hold the page: \d+ notes in Flute$/);
  const heads = async () =>
    strip.locator('g.note').evaluateAll((all) => all.map((head) => `${head.id} ${(head as SVGGElement).getBBox().y}`));
  // Of the flute alone, and engraved with what is held.
  await expect.poll(() => strip.locator('g.note').count()).toBeLessThan(60);
  await expect.poll(() => strip.locator('g.note.chosen').count()).toBeGreaterThan(20);
  const before = await heads();
  // In half the time: the roll moves, the page does not; and that it has drifted apart is a finding.
  await list(page, 't h');
  await press(page, '2');
  await expect(page.locator('option[value="drifted"]')).toHaveText(/^Page and playing apart · \d+$/);
  await expect.poll(heads).toEqual(before);
  await press(page, 'u');

  await press(page, 'Escape', '.');
  await page.keyboard.press('4');
  await page.getByLabel('Clef from here').selectOption('alto');
  await expect(spokenWords(page)).toHaveText('Alto clef at bar 1 of Flute');
  await list(page, '7 5');
  await expect(spokenWords(page)).toHaveText('System begins at bar 1 of Flute');
  // What is of all parts: a key, a meter; and one that is none.
  await page.getByLabel('Key from here').selectOption('E♭ major');
  await expect(spokenWords(page)).toHaveText('E♭ major from bar 1');
  await expect(strip.locator('g.keySig').first().locator('path')).toHaveCount(3);
  const meter = page.getByLabel(/^Meter from here/);
  await meter.fill('waltz');
  await page.getByRole('button', { name: 'Set the meter' }).click();
  await expect(page.getByText(/^Type a meter as 3\/4/).first()).toBeVisible();
  await meter.fill('3/4');
  await meter.press('Enter');
  await expect(spokenWords(page)).toHaveText('3/4 from bar 1');
});

test('marks over the score are moved by pointer and by keyboard, put back, and locked', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  const tempo = engraved(page).locator('g.tempo').first();
  const placeOf = async () => {
    const box = await tempo.boundingBox();
    return box ? [Math.round(box.x), Math.round(box.y)] : [];
  };
  const drag = async (x: number, y: number) => {
    const box = await tempo.boundingBox();
    if (!box) throw new Error('no tempo mark');
    const [fromX, fromY] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(fromX, fromY);
    await page.mouse.down();
    await page.mouse.move(fromX + x, fromY + y, { steps: 4 });
    await page.mouse.up();
  };
  const [x, y] = await placeOf();
  await drag(30, -10);
  await expect(spokenWords(page)).toHaveText('Move the tempo mark of bar 1');
  await expect.poll(async () => Math.abs(((await placeOf())[0] ?? 0) - (x ?? 0) - 30)).toBeLessThanOrEqual(2);
  // By keyboard, in the panel: up again by half a space, then put back.
  await press(page, '4');
  const fields = page.getByRole('region', { name: 'Corrections by hand' });
  await fields.getByRole('button', { name: 'Up: tempo mark of bar 1' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Take back: Tempo mark moved, bar 1' })).toBeVisible();
  await fields.getByRole('button', { name: 'Put back' }).press('Enter');
  await expect(spokenWords(page)).toHaveText('Put back: tempo mark of bar 1');
  await expect.poll(placeOf).toEqual([x, y]);
  // Locked, it stays where it is.
  await fields.getByLabel('locked').check();
  await drag(30, -10);
  await expect(spokenWords(page)).toHaveText('Marks of this kind are locked: tempo mark.');
  expect(await placeOf()).toEqual([x, y]);
  expect(troubles).toEqual([]);
});
