/** Seeing many parts: hue, rows, the strip, places by name, the rail with many parts, and all of it as it was left. */
import { readFile } from 'node:fs/promises';
import { addEmptyPart, applyEdit, demoMidi, importMidi, writePlayedMidi } from '@crispfold/core';
import {
  deskReady,
  engraved,
  historyOf,
  list,
  openDemo,
  panel,
  pieceStrip,
  press,
  saved,
  spokenWords,
} from './desk.js';
import { bringInBand } from './music.js';
import { expect, type Page, test } from './stage.js';

const partsRail = (page: Page) => page.getByRole('navigation', { name: 'Parts' });

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
  await expect(pieceStrip(page)).toHaveAttribute('aria-valuenow', '9');
  await page.reload();
  await deskReady(page);
  await expect(pieceStrip(page)).toHaveAttribute('aria-valuenow', '9');
  await expect(page.getByRole('radio', { name: 'All shown' })).toHaveAttribute('aria-checked', 'true');
  await expect(page.getByRole('button', { name: 'Mute Horn in F' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('button', { name: 'Show Cello', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('tab', { name: 'Findings' })).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('figure', { name: 'Hue shows: Loudness' })).toBeVisible();
  await expect(page.getByRole('contentinfo')).toContainText('Horn in F');
});

test('a kit has a map of its own: names, lines, heads, voices; a file; findings, page and history go by it', async ({
  page,
  server,
  troubles,
}) => {
  await bringInBand(page, server);
  await press(page, 'n', '2');
  const findings = page.getByRole('tabpanel', { name: 'Findings' });
  await expect(findings.getByText(/sound 84 has no line of its own/)).toBeVisible();
  const picture = engraved(page).locator('svg').first();
  const before = await picture.innerHTML();
  await list(page, 'o k');
  const map = panel(page, 'Percussion map');
  await map.getByLabel('Name of sound 84').fill('Bell tree');
  await map.getByLabel('Line of Bell tree').selectOption({ label: 'ledger line 1 above' });
  await map.getByLabel('Head of Bell tree').selectOption({ label: 'triangle' });
  await map.getByLabel('Voice of Closed hi-hat').selectOption({ label: 'down: the feet' });
  await map.getByLabel('Name of sound 38').fill(' ');
  await expect(map.getByRole('alert')).toHaveText('Each sound needs a name.');
  await expect(map.getByRole('button', { name: 'Use this map' })).toBeDisabled();
  await map.getByLabel('Name of sound 38').fill('Snare');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    map.getByRole('button', { name: 'File', exact: true }).click(),
  ]);
  const file = await readFile(await download.path(), 'utf8');
  expect(JSON.parse(file)).toMatchObject({ format: 'crisp-fold-percussion-map', version: 1 });
  await map.getByRole('button', { name: 'Use this map' }).click();
  await expect(map).toHaveCount(0);
  await expect(findings.getByText(/sound 84/)).toHaveCount(0);
  await expect.poll(() => picture.innerHTML()).not.toBe(before);
  await press(page, 'Period');
  await expect(spokenWords(page)).toHaveText(/^Kit, (Closed hi-hat|Bass drum 1|Snare|Bell tree), bar 1/);
  expect((await historyOf(page)).at(-1)).toBe('Kit: percussion map');
  await press(page, 'u');
  await press(page, '2');
  await expect(findings.getByText(/sound 84 has no line of its own/)).toBeVisible();
  await list(page, 'o k');
  await expect(map.getByLabel('Name of sound 84')).toHaveValue('Percussion 84');
  const bring = (text: string) =>
    map
      .getByLabel('File of a percussion map')
      .setInputFiles({ name: 'map.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await bring('{"format":"else"}');
  await expect(page.getByText('This is not a percussion map', { exact: false })).toBeVisible();
  await bring(file);
  await expect(map.getByLabel('Name of sound 84')).toHaveValue('Bell tree');
  await map.getByRole('button', { name: 'Use this map' }).click();
  await saved(page);
  await page.reload();
  await deskReady(page);
  await list(page, 'o k');
  await expect(map.getByLabel('Head of Bell tree')).toHaveValue('triangle');
  expect(troubles).toEqual([]);
});
