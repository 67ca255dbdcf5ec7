import {
  engraved,
  historyOf,
  list,
  openDemo,
  pageReady,
  panel,
  pieceStrip,
  press,
  roll,
  saved,
  spokenWords,
} from '../journeys/desk.js';
import { bringInBand } from '../journeys/music.js';
import { expect, type Page, test } from '../journeys/stage.js';

/** What the roll shows as a picture, to see that it is another. */
const picture = async (page: Page): Promise<string> => (await roll(page).screenshot()).toString('base64');

test('hue shows one thing after another, each with its key; rows and names are chosen', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await press(page, 'y');
  await page.keyboard.press('h');
  await expect(spokenWords(page)).toHaveText('Hue shows: Loudness.');
  await expect(page.getByRole('figure', { name: 'Hue shows: Loudness' })).toContainText('under 32');
  await press(page, 'y');
  await page.keyboard.press('v');
  const seeing = panel(page, 'What is seen');
  await seeing.getByLabel('Hue').selectOption({ label: 'What the plan changed' });
  await expect(page.getByRole('figure')).toContainText('changed or left out');
  const before = await picture(page);
  await seeing.getByRole('combobox', { name: 'Rows' }).selectOption({ label: 'those in use' });
  await expect.poll(() => picture(page)).not.toBe(before);
  await seeing.getByLabel('Mark the rows of the scale').check();
  await seeing.getByLabel('Hue').selectOption({ label: 'Part' });
  await expect(page.getByRole('figure', { name: /^Hue shows/ })).toHaveCount(0);
  expect(troubles).toEqual([]);
});

test('the strip and names of places lead through the piece, and a key leads back', async ({ page, server }) => {
  await openDemo(page, server);
  const strip = pieceStrip(page);
  await expect(strip).toHaveAttribute('aria-valuenow', '1');
  const box = await strip.boundingBox();
  if (!box) throw new Error('There is no strip.');
  await page.mouse.click(box.x + box.width * 0.75, box.y + 30);
  await expect.poll(async () => Number(await strip.getAttribute('aria-valuenow'))).toBeGreaterThan(20);
  await strip.press('ArrowLeft');
  await press(page, 'Shift+G');
  await page.keyboard.type('999');
  await expect(panel(page, 'Go to').getByRole('alert')).toHaveText(/^The piece has bars 1 to \d+\.$/);
  await page.keyboard.press('Control+a');
  await page.keyboard.type('17');
  await page.keyboard.press('Enter');
  await expect(strip).toHaveAttribute('aria-valuenow', '17');
  await press(page, 'Shift+Z');
  await expect(strip).not.toHaveAttribute('aria-valuenow', '17');
  await press(page, 'y');
  await page.keyboard.press('g');
  await page.keyboard.type('swung');
  await page.keyboard.press('Enter');
  await expect(spokenWords(page)).toHaveText(/^B, swung, bar \d+$/);
});

test('one voice, then one staff is brought forward: it alone is picked, edited and charted', async ({
  page,
  server,
  troubles,
}) => {
  await bringInBand(page, server);
  await press(page, 'a');
  const foot = page.getByRole('contentinfo');
  await expect(foot).toContainText('248 notes selected');
  const all = await picture(page);
  await list(page, 'y w');
  await list(page, 'y w');
  await expect(spokenWords(page)).toHaveText('Voice 2 is brought forward.');
  const bar = panel(page, 'One voice or staff is brought forward');
  const count = async () => Number(/its (\d+) notes/.exec((await bar.textContent()) ?? '')?.[1]);
  await expect.poll(count).toBeGreaterThan(10);
  expect(await picture(page)).not.toBe(all);
  // What was selected besides stays as it is.
  await press(page, 'm');
  const muted = Number(/(\d+)/.exec((await historyOf(page)).at(-1) ?? '')?.[1]);
  expect(muted).toBeGreaterThan(0);
  expect(muted).toBeLessThan(40);
  await press(page, 'u', 'Escape', 'a');
  await expect(foot).toContainText(`${muted} notes selected`);
  await press(page, '5');
  await page.getByText('Charts of the front part').click();
  await expect(panel(page, 'Charts')).toContainText('Voice 2 alone.');
  await expect(panel(page, 'Charts')).toContainText(`${muted} notes from`);
  await list(page, 'y w');
  await expect(spokenWords(page)).toHaveText('Upper staff, right hand is brought forward.');
  const upper = await count();
  await list(page, 'y v');
  await panel(page, 'What is seen').getByLabel('Forward').selectOption({ label: 'Lower staff, left hand' });
  await expect.poll(count).not.toBe(upper);
  await bar.getByRole('button', { name: 'All notes again' }).click();
  await expect(bar).toHaveCount(0);
  await saved(page);
  expect(troubles).toEqual([]);
});

test('the page is turned apart from the roll, by key, button and wheel, and follows again', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  const strip = pieceStrip(page);
  const header = panel(page, 'Page').locator('header');
  const bars = async () => (await header.textContent())?.match(/bars? (\d+)/)?.[1];
  await expect.poll(bars).toBe('1');
  await list(page, 'y n');
  await expect.poll(bars).toBe('10');
  await expect(strip).toHaveAttribute('aria-valuenow', '1');
  // The roll goes on, the page stays.
  await press(page, 'PageDown');
  await expect(strip).toHaveAttribute('aria-valuenow', '2');
  await expect.poll(bars).toBe('10');
  await header.getByRole('button', { name: 'Bars before' }).click();
  await expect.poll(bars).toBe('1');
  await engraved(page).hover();
  await page.mouse.wheel(4000, 0);
  await page.mouse.wheel(180, 0);
  await expect.poll(bars).not.toBe('1');
  await press(page, 'Shift+W');
  await expect(spokenWords(page)).toHaveText('The page follows the roll.');
  await expect.poll(bars).toBe('2');
  await press(page, 'PageDown');
  await expect.poll(bars).toBe('3');
  await press(page, 'Shift+W', 'PageDown');
  await expect(strip).toHaveAttribute('aria-valuenow', '4');
  await expect.poll(bars).toBe('3');
  await header.getByRole('button', { name: 'Follow the roll' }).click();
  await expect.poll(bars).toBe('4');
});

test('names, rows of a scale, outlines and the page’s own grid are drawn as chosen', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  await list(page, 'y v');
  const seeing = panel(page, 'What is seen');
  const drawn = async (change: () => Promise<unknown>): Promise<void> => {
    const before = await picture(page);
    await change();
    await expect.poll(() => picture(page)).not.toBe(before);
  };
  await drawn(() => seeing.getByLabel('Names').selectOption({ label: 'always' }));
  await drawn(() => seeing.getByLabel('Names').selectOption({ label: 'never' }));
  await drawn(() => seeing.getByLabel('Mark the rows of the scale').check());
  await drawn(() => seeing.getByRole('combobox', { name: 'Scale' }).selectOption({ label: 'whole tone' }));
  await drawn(() => seeing.getByLabel('Root').selectOption({ label: 'C♯' }));
  await drawn(() =>
    seeing.getByRole('combobox', { name: 'Rows' }).selectOption({ label: 'those of the scale, and in use' }),
  );
  await drawn(() => seeing.getByLabel(/^Faint outline/).check());
  for (const hue of ['Voice', 'Hand', 'Channel']) {
    await drawn(() => seeing.getByLabel('Hue').selectOption({ label: hue }));
    await expect(page.getByRole('figure', { name: `Hue shows: ${hue}` })).toBeVisible();
  }
  await drawn(() => list(page, 'g p'));
  expect(troubles).toEqual([]);
});

test('the roll follows the playhead, or stays; the loop is fitted', async ({ page, server }) => {
  await openDemo(page, server);
  const strip = pieceStrip(page);
  const place = page.getByLabel('Playhead');
  await press(page, 'Shift+G');
  await page.keyboard.type('3');
  await page.keyboard.press('Enter');
  await list(page, 'y o');
  await expect(spokenWords(page)).toHaveText('The roll stays where it is.');
  await press(page, 'Home', 'Space');
  // However busy the machine is: it has gone on, and the roll has not.
  await expect(place).not.toContainText('bar 1, beat 1 ·');
  await press(page, 'Space');
  await expect(strip).toHaveAttribute('aria-valuenow', '3');
  await list(page, 'y o');
  await press(page, 'Home', 'Space');
  await expect(strip).toHaveAttribute('aria-valuenow', '1');
  await press(page, 'Space');
  await list(page, 'y l');
  await expect(page.getByRole('contentinfo')).toContainText('There is no loop');
  await press(page, 'Period', 'Period');
  await list(page, 'k s');
  const before = await picture(page);
  await list(page, 'y l');
  await expect.poll(() => picture(page)).not.toBe(before);
});
