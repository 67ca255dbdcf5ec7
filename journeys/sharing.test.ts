/** Parts shared out, and sentences: chords dealt out, parts split and combined, parts themselves, Where … do … by keyboard. */
import { demoMidi, importMidi, writePlayedMidi } from '@crispfold/core';
import { deskReady, historyOf, openDemo, panel, press, saved, spokenWords } from './desk.js';
import { expect, type Page, test } from './stage.js';

const foot = (page: Page) => page.getByRole('contentinfo');

const partNames = (page: Page) =>
  page
    .getByRole('navigation', { name: 'Parts' })
    .getByRole('listitem')
    .locator('button span.flex:first-child')
    .allTextContents();

const lastDone = async (page: Page): Promise<string> => (await historyOf(page)).at(-1) ?? '';

test('chords are dealt out by themselves, and voice by voice with digits', async ({ page, server, troubles }) => {
  await openDemo(page, server);
  await press(page, 'Alt+4', 'a', 'o');
  await page.keyboard.press('g');
  const deal = panel(page, 'Deal out');
  await expect(deal.getByRole('status')).toContainText('177 notes in chords of up to');
  for (const name of ['Tambourine', 'Horn in F']) await deal.getByRole('checkbox', { name }).uncheck();
  await deal.getByRole('button', { name: 'Deal out', exact: true }).click();
  await expect
    .poll(() => lastDone(page))
    .toMatch(/^Deal out: \d+ notes to Flute, \d+ to Clarinet in B flat, \d+ to Cello$/);
  await expect(deal).toHaveCount(0);
  await press(page, 'u', 'a', 'o');
  await page.keyboard.press('g');
  await deal.getByRole('combobox').first().selectOption({ label: 'voice by voice' });
  await deal.getByRole('list', { name: 'Voices of the chords' }).getByRole('button').first().focus();
  // The top voice to the flute and the clarinet, the second to the horn; the third stays.
  for (const key of ['1', 'ArrowUp', 'Shift+Digit2', 'ArrowDown', '3']) await page.keyboard.press(key);
  await expect(deal.getByRole('list', { name: 'Voices of the chords' })).toContainText('Flute and Clarinet in B flat');
  await expect(deal.getByText(/^Flute: \d+ notes? over another|^Flute: \d+ notes? too/)).toBeVisible();
  await deal.getByRole('button', { name: 'Deal out', exact: true }).click();
  await expect
    .poll(() => lastDone(page))
    .toMatch(/^Deal out: (\d+) notes to Flute, \1 to Clarinet in B flat, \d+ to Horn in F$/);
  await press(page, 'u');
  await saved(page);
  expect(troubles).toEqual([]);
});

test('a percussion part is split by its sounds, and combined again', async ({ page, server, troubles }) => {
  const read = importMidi([{ name: 'demo.mid', bytes: demoMidi() }]);
  if (!read.ok) throw new Error(read.problem.message);
  const { arrangement } = read.value;
  const parts = arrangement.parts.map((part) =>
    part.name === 'Tambourine'
      ? { ...part, name: 'Kit', notes: part.notes.map((note, at) => ({ ...note, pitch: [36, 42, 38][at % 3] ?? 36 })) }
      : part,
  );
  const buffer = Buffer.from(writePlayedMidi({ ...arrangement, parts }));
  await page.goto(server.address);
  await page
    .getByLabel('MIDI files', { exact: true })
    .setInputFiles({ name: 'Kit.mid', mimeType: 'audio/midi', buffer });
  await deskReady(page);
  await press(page, 'Alt+6', 'o');
  await page.keyboard.press('p');
  const split = panel(page, 'Split the part');
  await split.getByRole('combobox').selectOption({ label: 'each pitch or percussion sound' });
  await expect(split.getByRole('status')).toContainText('3 parts:');
  await split.getByRole('button', { name: 'Split into 3' }).click();
  const sounds = ['Kit: Closed hi-hat', 'Kit: Acoustic snare', 'Kit: Bass drum 1'];
  await expect.poll(() => partNames(page)).toEqual(expect.arrayContaining(sounds));
  await press(page, 'Alt+6', 'o');
  await page.keyboard.press('j');
  const combine = panel(page, 'Combine parts');
  for (const name of sounds) await combine.getByRole('checkbox', { name }).check();
  await combine.getByRole('button', { name: 'Combine', exact: true }).click();
  await expect.poll(() => partNames(page)).not.toEqual(expect.arrayContaining(['Kit: Bass drum 1']));
  expect(await lastDone(page)).toBe(`Combine ${sounds.join(', ')}`);
  await press(page, 'u', 'u');
  await expect.poll(() => partNames(page)).toContain('Kit');
  await saved(page);
  expect(troubles).toEqual([]);
});

test('the selection goes one part down, and to a part by its number', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, '.', 'o');
  await page.keyboard.press('f');
  await expect.poll(() => lastDone(page)).toBe('Send: 1 note to Clarinet in B flat');
  await press(page, 'o');
  await page.keyboard.press('t');
  await expect(panel(page, 'Send to a part').getByRole('status')).toContainText('1 note, to which part?');
  await page.keyboard.press('5');
  await expect.poll(() => lastDone(page)).toBe('Send: 1 note to Cello');
});

test('show only what a sentence picks, then delete what is seen', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, 'r', '6');
  await page.keyboard.press('6');
  await panel(page, 'Sentences').getByRole('button', { name: 'None louder than 110', exact: true }).click();
  const builder = panel(page, 'Where … do …');
  await builder.getByRole('spinbutton', { name: 'From' }).fill('1');
  await page.keyboard.press('Tab');
  await builder.getByRole('spinbutton', { name: 'To' }).fill('60');
  await page.keyboard.press('Tab');
  await builder.getByLabel('Line 1, change 1').selectOption({ label: 'show only them' });
  const words = builder.getByRole('button', { name: /^Do it · \d+$/ });
  const count = /\d+/.exec((await words.textContent()) ?? '')?.[0];
  await words.click();
  await expect(page.getByText(`Only ${count} notes`, { exact: false }).first()).toBeVisible();
  await expect(foot(page)).toContainText(`${count} notes selected`);
  await press(page, 'a', 'Delete');
  await expect.poll(() => lastDone(page)).toMatch(/^Delete: \d+ notes? in/);
  const gone = (await lastDone(page)).match(/\d+/g)?.reduce((sum, number) => sum + Number(number), 0);
  expect(gone).toBe(Number(count));
  expect(await spokenWords(page).textContent()).toContain('Delete');
});
