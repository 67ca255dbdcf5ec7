/** The clean-up engine on the Desk: plans, findings, steps on a selection, vetoes, comparison, charts. */
import { readFileSync, writeFileSync } from 'node:fs';
import { madeScore, perform, writePlayedMidi } from '@crispfold/core';
import {
  deskReady,
  engraved,
  historyOf,
  openDemo,
  outputPath,
  pageReady,
  press,
  ROLL_HEAD,
  roll,
  saved,
  spokenWords,
} from './desk.js';
import { expect, type Page, test } from './stage.js';

const stepOf = (page: Page, name: string) =>
  page
    .getByRole('region', { name: 'Plan' })
    .getByRole('listitem')
    .filter({ has: page.getByRole('checkbox', { name, exact: true }) });

const findings = (page: Page) => page.getByRole('region', { name: 'Findings' });

test('a part’s plan: parameters, order, ready plans, a name, a file, bars of their own', async ({ page, server }) => {
  await openDemo(page, server);
  await expect(stepOf(page, 'Quantize starts')).toContainText(/\d+$/);
  const before = await stepOf(page, 'Quantize starts').textContent();

  await stepOf(page, 'Quantize starts').getByRole('button', { name: 'Quantize starts', exact: true }).click();
  await stepOf(page, 'Quantize starts').getByLabel('Leave alone within: unit').selectOption('ms');
  await stepOf(page, 'Quantize starts').getByLabel('Leave alone within', { exact: true }).fill('12');
  await page.keyboard.press('Enter');
  await expect(stepOf(page, 'Quantize starts').locator('span.tabular-nums')).not.toHaveText(
    before?.match(/\d+$/)?.[0] ?? '',
  );

  await stepOf(page, 'Quantize starts').getByRole('button', { name: 'Quantize starts', exact: true }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(
    stepOf(page, 'Quantize starts').getByRole('button', { name: 'Quantize starts', exact: true }),
  ).toBeFocused();
  const names = await page
    .getByRole('list', { name: 'Steps of the plan' })
    .getByRole('checkbox')
    .evaluateAll((boxes) =>
      boxes.map((box) => box.getAttribute('aria-label')).filter((name) => name && !name.includes(':')),
    );
  expect(names.indexOf('Quantize starts')).toBe(names.indexOf('Gather chords') - 1);

  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByLabel('Name of the plan').fill('Light hand');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Saved the plan “Light hand”')).toBeVisible();
  await expect(page.getByLabel('Plan of the part')).toHaveValue('saved Light hand');

  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'File', exact: true }).click();
  const file = await (await waiting).path();
  expect(JSON.parse(readFileSync(file, 'utf8'))).toMatchObject({ format: 'crisp-fold-plan', version: 3 });
  await page.getByLabel('Plan of the part').selectOption('ready chords');
  await expect(stepOf(page, 'Gather chords')).toBeVisible();
  await page.getByLabel('Plan file').setInputFiles(file);
  await expect(page.getByLabel('Plan of the part')).toHaveValue('saved Light hand');
  const broken = outputPath('broken.json');
  writeFileSync(broken, '{ "format": "crisp-fold-plan", "version": 2, "name": "", "steps": [{ "step": "sing" }] }');
  await page.getByLabel('Plan file').setInputFiles(broken);
  await expect(page.getByText(/This plan cannot be used: there is no such step/)).toBeVisible();

  await page.getByLabel('To bar').fill('4');
  await page.keyboard.press('Enter');
  await page.getByLabel('From bar').fill('2');
  await page.keyboard.press('Enter');
  await page.getByLabel('Grid of these bars').selectOption('1/8');
  await expect(page.getByText('bars 2 to 4: Eighth')).toBeVisible();
  await saved(page);
  await page.reload();
  await deskReady(page);
  await expect(page.getByText('bars 2 to 4: Eighth')).toBeVisible();
});

test('a step on the selection says how many notes it will touch, and is undone by name', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, 'a');
  const box = await roll(page).boundingBox();
  if (!box) throw new Error('no roll');
  // Above all notes: a note under the pointer would become what the menu is about.
  await page.mouse.click(box.x + 300, box.y + ROLL_HEAD + 6, { button: 'right' });
  await page.getByRole('menuitem', { name: /^Lengths/ }).click();
  const item = page.getByRole('menuitem', { name: /^Close gaps/ });
  await expect(item).toContainText(/[1-9]\d*$/);
  const count = (await item.textContent())?.match(/\d+$/)?.[0];
  await page.keyboard.press('Escape');
  // The menu has the keys while it goes.
  await expect(item).toBeHidden();
  await press(page, 'l', 'Shift+C');
  const settings = page.getByRole('region', { name: 'Close gaps' });
  await settings.getByRole('button', { name: `Close gaps · ${count}` }).click();
  await expect.poll(() => historyOf(page)).toContainEqual(`Close gaps: ${count} notes in Flute`);
  await press(page, 'u', '/');
  await page.keyboard.type('transpose');
  await page.getByRole('option', { name: 'Transpose: settings…' }).click();
  await page.getByLabel('Octaves').fill('99');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Octaves')).toHaveValue('6');
  await page.getByLabel('Octaves').fill('1');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^Transpose · 164/ }).click();
  await expect.poll(() => historyOf(page)).toContainEqual('Transpose: 164 notes in Flute');
});

test('a note shows its reasons, and one step can be told to leave it alone', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, '.', '3');
  const panel = page.getByRole('region', { name: 'Selection', exact: true });
  const quantize = panel.getByRole('listitem').filter({ hasText: 'Quantize starts' });
  await expect(quantize).toContainText(/ms (late|early) for bar 1/);
  await quantize.getByRole('button', { name: 'Leave this one alone' }).click();
  await expect(quantize.getByRole('button', { name: 'Left alone · let it again' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await saved(page);
  await page.reload();
  await deskReady(page);
  await press(page, '.', '3');
  await expect(quantize.getByRole('button', { name: 'Left alone · let it again' })).toBeVisible();
  await quantize.getByRole('button').click();
  await expect(quantize.getByRole('button', { name: 'Leave this one alone' })).toBeVisible();
});

test('one key plays as played, then as written; charts show the part', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, 'n', '.', 'e');
  await expect(spokenWords(page)).toHaveText('as played');
  await expect(spokenWords(page)).toHaveText('as written', { timeout: 15_000 });
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible({ timeout: 15_000 });
  await press(page, '5');
  await page.getByText('Charts of the front part').click();
  await expect(page.getByRole('region', { name: 'Charts' })).toContainText('ms to either side');
  await expect(
    page
      .getByRole('img', { name: /Starts about the grid/ })
      .locator('svg path')
      .first(),
  ).toBeAttached();
});

test('a keyboard part comes on two staves with its voices, and a click on the lower staff finds its note', async ({
  page,
  server,
}) => {
  const recipe = { seed: 4, kind: 'keyboard', style: 'eighths', bars: 16, quartersPerMinute: 100 } as const;
  const score = madeScore({ ...recipe, meter: { numerator: 4, denominator: 4 } });
  const hand = {
    seed: 2,
    ppq: 480,
    spread: 12,
    lengths: [0.8, 1.04] as const,
    doubles: 0.03,
    specks: 0.02,
    rolled: 0.1,
  };
  const bytes = writePlayedMidi(perform(score, hand));
  await page.goto(server.address);
  await page
    .getByLabel('MIDI files', { exact: true })
    .setInputFiles([{ name: 'Study.mid', mimeType: 'audio/midi', buffer: Buffer.from(bytes) }]);
  await pageReady(page);
  await expect(page.getByLabel('Plan of the part')).toHaveValue('suggested');
  await expect(page.getByRole('region', { name: 'Plan' })).toContainText('it is wide and sounds like two hands');
  const staves = engraved(page).locator('svg g.measure').first().locator('g.staff');
  await expect(staves).toHaveCount(2);
  await staves.last().locator('g.note g.notehead').first().click({ force: true });
  await expect(page.getByRole('contentinfo')).toContainText('1 note selected');
  await press(page, '3');
  await expect(page.getByRole('region', { name: 'Selection', exact: true })).toContainText('left hand');
});

test('swing is found and written straight under its mark, or as triplets; all parts can take one plan', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await press(page, '2');
  await findings(page).getByLabel('Kind').selectOption('swing');
  await findings(page).getByLabel('Part').selectOption('5');
  await press(page, 'j', 'f', 'm');
  await expect.poll(() => historyOf(page)).toContainEqual(expect.stringMatching(/^Write as triplets: Swing in /));
  await press(page, '1');
  await stepOf(page, 'Quantize starts').getByRole('button', { name: 'Quantize starts', exact: true }).click();
  await expect(page.getByLabel('Swung pairs')).toHaveValue('triplets');
  await page.getByRole('button', { name: 'To all', exact: true }).click();
  await press(page, 'n');
  await expect(page.getByLabel('Plan of the part')).toHaveValue('own');
  await saved(page);
});

test('a large file stays answerable while its plan is made', async ({ page, server }) => {
  const library = server.address;
  await page.goto(library);
  await page.getByLabel('MIDI files', { exact: true }).setInputFiles('/usr/share/planetblupi/music/music009.mid');
  await pageReady(page);
  // A change of the largest part, and another before the first has come back: the last one counts.
  await press(page, 'b');
  for (const name of ['Merge', 'Gather chords', 'Drop specks'])
    await stepOf(page, name).getByRole('checkbox').first().uncheck();
  await press(page, 'Shift+T', 'Shift+T');
  await expect(page.getByText('working…')).toHaveCount(0, { timeout: 30_000 });
  for (const name of ['Merge', 'Gather chords', 'Drop specks']) await expect(stepOf(page, name)).toContainText(/–$/);
  await expect(stepOf(page, 'Quantize starts')).toContainText(/\d+$/);
  await saved(page);
});

test('a number is taken when its field is left: one entry of the history, not one a key', async ({ page, server }) => {
  await openDemo(page, server);
  await stepOf(page, 'Settle lengths').getByRole('button', { name: 'Settle lengths', exact: true }).click();
  const field = page.getByLabel('Lasts until the next where it fills');
  // 30 is the least, and 4 stands before 45 on its way.
  await field.pressSequentially('');
  await field.fill('');
  await field.pressSequentially('45');
  await expect(field).toHaveValue('45');
  await page.keyboard.press('Tab');
  await expect.poll(() => historyOf(page)).toEqual(['As brought in', 'Plan of Flute: Settle lengths']);
  await press(page, '1');
  await stepOf(page, 'Settle lengths').getByRole('button', { name: 'Settle lengths', exact: true }).click();
  await field.fill('7');
  await page.keyboard.press('Enter');
  await expect(field).toHaveValue('30');
});
