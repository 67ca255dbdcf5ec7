/** Seeing many parts: hue, rows, the strip, places by name, the rail with many parts, and all of it as it was left. */
import { addEmptyPart, applyEdit, demoMidi, importMidi, writePlayedMidi } from '@crispfold/core';
import { expect, type Page } from '@playwright/test';
import { deskReady, openDemo, press, roll, spokenWords, test } from './desk.js';

const panel = (page: Page, name: string) => page.getByRole('region', { name, exact: true });
const partsRail = (page: Page) => page.getByRole('navigation', { name: 'Parts' });
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
  await seeing.getByRole('combobox').first().selectOption({ label: 'What the plan changed' });
  await expect(page.getByRole('figure')).toContainText('changed or left out');
  const before = await picture(page);
  await seeing.getByRole('combobox').nth(2).selectOption({ label: 'those in use' });
  await expect.poll(() => picture(page)).not.toBe(before);
  await seeing.getByLabel('Mark the rows of the key').check();
  await seeing.getByRole('combobox').first().selectOption({ label: 'Part' });
  await expect(page.getByRole('figure', { name: /^Hue shows/ })).toHaveCount(0);
  expect(troubles).toEqual([]);
});

test('the strip and names of places lead through the piece, and a key leads back', async ({ page, server }) => {
  await openDemo(page, server);
  const strip = page.getByTestId('strip');
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

test('with many parts the rail has families and a search, and a percussion part names its rows', async ({
  page,
  server,
  troubles,
}) => {
  const read = importMidi([{ name: 'demo.mid', bytes: demoMidi() }]);
  if (!read.ok) throw new Error(read.problem.message);
  let { arrangement } = read.value;
  const [model] = arrangement.parts;
  for (let more = 0; more < 34; more += 1) {
    const instrument = ['violin', 'viola', 'trumpet', 'oboe'][more % 4] ?? 'violin';
    arrangement = applyEdit(arrangement, addEmptyPart(arrangement, instrument));
    const notes = (model?.notes ?? []).map((note, at) => ({ ...note, id: 10_000 * (more + 1) + at }));
    arrangement = {
      ...arrangement,
      parts: arrangement.parts.map((part, at, all) => (at === all.length - 1 ? { ...part, notes } : part)),
    };
  }
  await page.goto(server.address);
  await page.getByLabel('MIDI files', { exact: true }).setInputFiles({
    name: 'Forty.mid',
    mimeType: 'audio/midi',
    buffer: Buffer.from(writePlayedMidi(arrangement)),
  });
  await deskReady(page);
  await expect(partsRail(page).getByRole('button', { name: /^Woodwind/ })).toBeVisible();
  await partsRail(page).getByRole('button', { name: 'Hide all of Strings' }).click();
  await expect(partsRail(page).getByRole('button', { name: 'Show all of Strings' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await partsRail(page)
    .getByRole('button', { name: /^Brass/ })
    .click();
  await expect(partsRail(page).getByRole('button', { name: /^Bring Trumpet/ })).toHaveCount(0);
  await press(page, 'Shift+O');
  await page.keyboard.type('tambour');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('contentinfo')).toContainText('Tambourine');
  await expect(spokenWords(page)).toHaveText(/^Tambourine in front/);
  expect(troubles).toEqual([]);
});

test('the Desk opens as it was left', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, 'r', 'Alt+3', 'o');
  await page.keyboard.press('m');
  await partsRail(page).getByRole('button', { name: 'Hide Cello', exact: true }).click();
  await press(page, '2', 'y');
  await page.keyboard.press('h');
  await press(page, 'Shift+G');
  await page.keyboard.type('9');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('strip')).toHaveAttribute('aria-valuenow', '9');
  await page.reload();
  await deskReady(page);
  await expect(page.getByTestId('strip')).toHaveAttribute('aria-valuenow', '9');
  await expect(page.getByRole('radio', { name: 'All shown' })).toHaveAttribute('aria-checked', 'true');
  await expect(page.getByRole('button', { name: 'Mute Horn in F' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('button', { name: 'Show Cello', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('tab', { name: 'Findings' })).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('figure', { name: 'Hue shows: Loudness' })).toBeVisible();
  await expect(page.getByRole('contentinfo')).toContainText('Horn in F');
});
