import { readFileSync, writeFileSync } from 'node:fs';
import { demoMidi, importMidi } from '@crispfold/core';
import {
  deskReady,
  engraved,
  focusRoll,
  historyOf,
  lookAtNextNote,
  openDemo,
  outputPath,
  pageReady,
  ROLL_HEAD,
  roll,
  saved,
  saveState,
  spokenWords,
} from './desk.js';
import { expect, test } from './stage.js';

const midi = (name: string) => ({ name, mimeType: 'audio/midi', buffer: Buffer.from(demoMidi()) });

test('the whole way: files in, Desk, plan, crease, page, export, a killed server, and all is still there', async ({
  page,
  server,
  troubles,
}) => {
  await server.moveOut();
  await page.goto(server.address);
  await page.getByLabel('MIDI files', { exact: true }).setInputFiles([midi('Dusk.mid'), midi('Dawn.mid')]);
  await expect(page).toHaveURL(/\/desk\//);
  await pageReady(page);
  await expect(page.getByRole('navigation', { name: 'Parts' }).getByRole('list').locator('> li')).toHaveCount(12);

  const plan = page.getByRole('region', { name: 'Plan' });
  const step = plan.getByRole('listitem').filter({ has: page.getByRole('checkbox', { name: 'Quantize starts' }) });
  await expect(step).toContainText(/1\d\d$/);
  await step.getByRole('checkbox').uncheck();
  await expect(step).toContainText(/–$/);
  await step.getByRole('checkbox').check();
  await expect(step).toContainText(/1\d\d$/);

  const box = await roll(page).boundingBox();
  if (!box) throw new Error('no roll');
  await page.mouse.move(box.x + box.width - 8, box.y + 6);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y + 60, { steps: 4 });
  await page.mouse.up();
  await page.mouse.move(box.x + box.width - 60, box.y + 150);
  await expect(page.getByRole('contentinfo')).toContainText('This side of the crease shows Written');

  await focusRoll(page);
  await page.keyboard.press('.');
  await page.keyboard.press('ArrowUp');
  await saved(page);

  await page.getByRole('button', { name: 'Export' }).click();
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'MusicXML', exact: true }).click();
  const download = await waiting;
  expect(download.suggestedFilename()).toBe('Saltmarsh Lanterns.musicxml');
  expect(readFileSync(await download.path(), 'utf8').match(/<score-part /g)).toHaveLength(12);
  await page.keyboard.press('Escape');

  const before = await historyOf(page);
  expect(before).toEqual([
    'As brought in',
    'Plan of Flute: Quantize starts off',
    'Plan of Flute: Quantize starts on',
    expect.stringMatching(/^Transpose: 1 note/),
  ]);
  await server.kill();
  await server.start();
  await page.reload();
  await deskReady(page);
  expect(await historyOf(page)).toEqual(before);
  // What was asked while the server was down could not be had.
  expect(troubles.filter((trouble) => !trouble.includes('ERR_CONNECTION'))).toEqual([]);
});

test('the library renames, duplicates, deletes and takes a deletion back', async ({ page, server, troubles }) => {
  await page.goto(server.address);
  const list = page.getByRole('list', { name: 'Arrangements' });
  await page.getByRole('button', { name: 'Rename Saltmarsh Lanterns' }).click();
  await page.getByLabel('New title').fill('Lanterns at dusk');
  await page.keyboard.press('Enter');
  await expect(list.getByRole('link', { name: 'Lanterns at dusk' })).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate Lanterns at dusk' }).click();
  await expect(list.getByRole('link', { name: 'Lanterns at dusk, copy' })).toBeVisible();
  await page.getByRole('button', { name: 'Delete Lanterns at dusk', exact: true }).click();
  await expect(list.getByRole('link')).toHaveCount(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(list.getByRole('link')).toHaveCount(3);
  expect(troubles).toEqual([]);
});

test('bad files get a clear message and leave nothing behind', async ({ page, server }) => {
  await page.goto(server.address);
  const field = page.getByLabel('MIDI files', { exact: true });
  await field.setInputFiles({ name: 'letter.mid', mimeType: 'audio/midi', buffer: Buffer.from('Dear player') });
  await expect(page.getByText('letter.mid: This is not a MIDI file.')).toBeVisible();
  await field.setInputFiles({ name: 'huge.mid', mimeType: 'audio/midi', buffer: Buffer.alloc(21 * 1024 * 1024) });
  await expect(page.getByText(/huge.mid is larger than 20 MB/)).toBeVisible();
  await expect(page.getByRole('list', { name: 'Arrangements' }).getByRole('listitem')).toHaveCount(2);
});

test('a note can be moved, trimmed, drawn and deleted by hand, and each undone by name', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  const [x, y] = await lookAtNextNote(page);
  await expect(spokenWords(page)).toHaveText(/^Flute, A5, bar 1 beat 1/);
  await page.mouse.move(x, y);
  await expect(page.getByRole('contentinfo')).toContainText('Drag to move');
  await page.mouse.down();
  await page.mouse.move(x + 200, y, { steps: 4 });
  await page.mouse.up();
  await expect.poll(() => historyOf(page)).toEqual(['As brought in', 'Move: 1 note in Flute']);
  await page.keyboard.press('u');
  await focusRoll(page);
  await page.keyboard.press('d');
  await page.mouse.move(x, y - 80);
  await page.mouse.down();
  await page.mouse.move(x + 120, y - 80, { steps: 3 });
  await page.mouse.up();
  await expect.poll(() => historyOf(page)).toEqual(['As brought in', 'Draw: 1 note in Flute']);
  await focusRoll(page);
  await page.keyboard.press('Delete');
  await expect
    .poll(() => historyOf(page))
    .toEqual(['As brought in', 'Draw: 1 note in Flute', 'Delete: 1 note in Flute']);
  await page.getByRole('button', { name: /As brought in/ }).click();
  await saved(page);
  expect(troubles).toEqual([]);
});

test('a click on the page selects the note in the roll, and brings its part forward', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  const head = engraved(page).locator('svg g.note').last();
  await head.locator('.notehead, use').first().click({ force: true });
  await expect(page.getByRole('contentinfo')).toContainText('1 note selected');
  await expect(page.getByRole('contentinfo')).not.toContainText(/^Flute/);
  await expect(engraved(page).locator('g.note.chosen')).not.toHaveCount(0);
  expect(troubles).toEqual([]);
});

test('everything goes by keyboard, and says what it does', async ({ page, server, troubles }) => {
  await openDemo(page, server);
  await focusRoll(page);
  await page.keyboard.press('n');
  await expect(spokenWords(page)).toHaveText(/^Clarinet in B flat in front/);
  await page.keyboard.press('a');
  await expect(page.getByRole('contentinfo')).toContainText('164 notes selected');
  await page.keyboard.press('i');
  await page.keyboard.press('r');
  await expect(spokenWords(page)).toHaveText('0 notes selected');
  await page.keyboard.press('.');
  await page.keyboard.press('i');
  await page.keyboard.press('p');
  await expect(spokenWords(page)).toHaveText(/^\d+ notes selected$/);
  await page.keyboard.press('Shift+ArrowUp');
  await expect.poll(() => historyOf(page)).toContainEqual(expect.stringMatching(/^Transpose: \d+ notes in Clarinet/));
  await focusRoll(page);
  await page.keyboard.press('o');
  await page.keyboard.press('m');
  await expect(page.getByRole('button', { name: 'Mute Clarinet in B flat' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('o');
  await page.keyboard.press('a');
  await expect(page.getByRole('button', { name: 'Show Flute', exact: true })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('undo');
  await page.keyboard.press('Enter');
  await saved(page);
  await focusRoll(page);
  await page.keyboard.press('u');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  expect(troubles).toEqual([]);
});

test('the music plays, loops and stops, and the playhead follows', async ({ page, server, troubles }) => {
  await openDemo(page, server);
  const playhead = page.getByLabel('Playhead');
  await expect(playhead).toContainText('bar 1, beat 1');
  await focusRoll(page);
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible();
  await expect(playhead).not.toContainText('bar 1, beat 1', { timeout: 10_000 });
  await page.keyboard.press('k');
  await page.keyboard.press('m');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  const box = await roll(page).boundingBox();
  if (!box) throw new Error('no roll');
  await page.mouse.move(box.x + 300, box.y + 34);
  await page.mouse.down();
  await page.mouse.move(box.x + 380, box.y + 34, { steps: 3 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Loop', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Space');
  // It has looped once the playhead goes back by itself.
  const wentBack = await playhead.evaluate(
    (output) =>
      new Promise<boolean>((resolve) => {
        const place = () => {
          const [, bar, beat] = /bar (\d+), beat (\d+)/.exec(output.textContent ?? '') ?? [];
          return Number(bar) * 100 + Number(beat);
        };
        let furthest = place();
        new MutationObserver(() => {
          if (place() < furthest) resolve(true);
          furthest = Math.max(furthest, place());
        }).observe(output, { subtree: true, childList: true, characterData: true });
      }),
  );
  expect(wentBack).toBe(true);
  await page.keyboard.press('Space');
  expect(troubles).toEqual([]);
});

test('files dropped on an open arrangement add parts, and an undo takes them away', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await page.getByLabel('Add parts from MIDI files').setInputFiles([midi('More.mid')]);
  const parts = page.getByRole('navigation', { name: 'Parts' }).getByRole('list').locator('> li');
  await expect(parts).toHaveCount(12);
  await focusRoll(page);
  await page.keyboard.press('u');
  await expect(parts).toHaveCount(6);
  await saved(page);
  expect(troubles).toEqual([]);
});

test('without the server the change is kept and saved when it is back', async ({ page, server }) => {
  await server.moveOut();
  await openDemo(page, server);
  await server.kill();
  await focusRoll(page);
  await page.keyboard.press('.');
  await page.keyboard.press('ArrowUp');
  await expect(saveState(page)).toContainText('Not saved yet');
  await server.start();
  await saved(page);
  await page.reload();
  expect(await historyOf(page)).toEqual(['As brought in', 'Transpose: 1 note in Flute']);
});

test('what is drawn by hand is exported too', async ({ page, server }) => {
  await openDemo(page, server);
  const box = await roll(page).boundingBox();
  if (!box) throw new Error('no roll');
  await focusRoll(page);
  await page.keyboard.press('d');
  await page.mouse.move(box.x + 400, box.y + ROLL_HEAD + 24);
  await page.mouse.down();
  await page.mouse.move(box.x + 460, box.y + ROLL_HEAD + 24, { steps: 3 });
  await page.mouse.up();
  await saved(page);
  await page.keyboard.press('Shift+X');
  const waiting = page.waitForEvent('download');
  await page.getByLabel(/The front part only/).check();
  await page.getByRole('button', { name: 'MIDI as played' }).click();
  const file = outputPath('front.mid');
  writeFileSync(file, readFileSync(await (await waiting).path()));
  const back = importMidi([{ name: 'front.mid', bytes: new Uint8Array(readFileSync(file)) }]);
  expect(back.ok && back.value.arrangement.parts.map((part) => [part.name, part.notes.length])).toEqual([
    ['Flute', 165],
  ]);
});

test('a right click on a note chooses it, and the menu is about it; Ctrl+A selects notes and no text', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  const [x, y] = await lookAtNextNote(page);
  await page.keyboard.press('Escape');
  await page.mouse.click(x, y, { button: 'right' });
  const menu = page.getByRole('menu');
  await expect(menu).toContainText('1 note selected');
  await expect(menu.getByRole('menuitem', { name: /^Delete the selection/ })).toBeEnabled();
  // A group opens also where it lies over the line between roll and page; Esc closes menus and leaves the selection.
  await menu.getByRole('menuitem', { name: /^Pitch/ }).click();
  await expect(page.getByRole('menuitem', { name: /^Transpose/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(menu).toHaveCount(0);
  await expect(page.getByRole('contentinfo')).toContainText('1 note selected');
  await focusRoll(page);
  await page.keyboard.press('Control+a');
  await expect(page.getByRole('contentinfo')).toContainText('164 notes selected');
  expect(await page.evaluate(() => String(getSelection()))).toBe('');
  await page.keyboard.press('n');
  await expect(page.getByRole('contentinfo')).toContainText('164 notes selected');
  await page.keyboard.press('Alt+1');
  await page.keyboard.press('h');
  await page.keyboard.press('ArrowUp');
  await expect(spokenWords(page)).toHaveText(
    'What is selected is hidden or locked. Show or unlock its part to work on it.',
  );
  expect(await historyOf(page)).toEqual(['As brought in']);
  expect(troubles).toEqual([]);
});

test('a part says what it is written for and why, and can be given another instrument', async ({ page, server }) => {
  await openDemo(page, server);
  const choice = page.getByLabel('Instrument of Flute');
  await expect(choice).toHaveValue('flute');
  await choice.selectOption('oboe');
  await expect.poll(() => historyOf(page)).toContainEqual('Flute: written for Oboe');
  await expect(page.getByRole('navigation', { name: 'Parts' })).toContainText('chosen by you');
  await saved(page);
});
