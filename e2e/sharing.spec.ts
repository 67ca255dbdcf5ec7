/** Parts shared out, and sentences: chords dealt out, parts split and combined, parts themselves, Where … do … by keyboard. */
import { demoMidi, importMidi, writePlayedMidi } from '@crispfold/core';
import { expect, type Page } from '@playwright/test';
import {
  deskReady,
  engraved,
  historyOf,
  list,
  openDemo,
  panel,
  press,
  saved,
  scorePages,
  spokenWords,
  test,
} from './desk.js';

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

test('a part is renamed, moved, given another instrument, deleted and brought back', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await press(page, 'Alt+3', 'o');
  await page.keyboard.press('n');
  const part = panel(page, 'The part');
  await part.getByLabel('Name').fill('English horn');
  await part.getByLabel('Instrument').selectOption({ label: 'English horn' });
  await expect(part.getByRole('spinbutton', { name: 'Program' })).toHaveValue('70');
  await part.getByRole('spinbutton', { name: 'Volume' }).fill('90');
  await part.getByRole('spinbutton', { name: 'Channel' }).fill('1');
  await page.keyboard.press('Tab');
  await expect(part.getByRole('status')).toContainText('shared with Flute');
  await part.getByRole('button', { name: 'Change the part' }).click();
  await expect.poll(() => partNames(page)).toContain('English horn');
  expect(await lastDone(page)).toBe('English horn: settings of the part');
  await press(page, 'o');
  await page.keyboard.press('u');
  await expect
    .poll(async () => (await partNames(page)).slice(0, 3))
    .toEqual(['Flute', 'English horn', 'Clarinet in B flat']);
  // By hand as well.
  const line = page.getByRole('navigation', { name: 'Parts' }).getByRole('listitem');
  const [from, to] = [await line.nth(1).boundingBox(), await line.nth(0).boundingBox()];
  if (!from || !to) throw new Error('There are no parts.');
  await page.mouse.move(from.x + 60, from.y + 14);
  await page.mouse.down();
  await page.mouse.move(to.x + 60, to.y + 10, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => (await partNames(page)).slice(0, 2)).toEqual(['English horn', 'Flute']);
  await press(page, 'o');
  await page.keyboard.press('x');
  await expect.poll(() => partNames(page)).not.toContain('English horn');
  await page.getByRole('button', { name: 'Undo', exact: true }).last().click();
  await expect.poll(async () => (await partNames(page))[0]).toBe('English horn');
  await press(page, 'Alt+1', 'o');
  await page.keyboard.press('c');
  await expect.poll(() => partNames(page)).toContain('English horn 2');
  await saved(page);
  await page.reload();
  await deskReady(page);
  expect((await partNames(page)).slice(0, 3)).toEqual(['English horn', 'English horn 2', 'Flute']);
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

test('a sentence is written by keyboard alone, counted, kept, and done by its key', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await press(page, 'r', '6');
  await page.keyboard.press('w');
  const builder = panel(page, 'Where … do …');
  await expect(builder.getByRole('status')).toContainText(/\d+ notes?/);
  // From the panel's head: to the kind of the condition, and on to its fields.
  const goTo = async (name: string) => {
    for (let press = 0; press < 40; press += 1) {
      await page.keyboard.press('Tab');
      const label = await page.evaluate(() => {
        const at = document.activeElement as HTMLElement;
        return at.getAttribute('aria-label') ?? at.closest('label')?.textContent ?? at.textContent ?? '';
      });
      if (label.trim().startsWith(name)) return;
    }
    throw new Error(`${name} was not reached by Tab.`);
  };
  await goTo('Condition 1');
  // "is or is not" comes first; the kind after it.
  await goTo('Condition 1');
  await page.keyboard.type('in the part');
  await goTo('Part');
  await page.keyboard.type('Cello');
  await expect(builder.getByRole('status')).toContainText('116 notes: 116 in Cello');
  await goTo('Another condition');
  await page.keyboard.press('Enter');
  await page.keyboard.type('shorter than …');
  await goTo('Shorter than');
  await page.keyboard.type('quarter');
  const count = async () => Number(/^\d+/.exec((await builder.getByRole('status').textContent()) ?? '')?.[0] ?? 0);
  await expect.poll(count).toBeLessThan(116);
  expect(await count()).toBeGreaterThan(0);
  await goTo('Line 1, change 1');
  await page.keyboard.type('mute');
  await goTo('Name');
  await page.keyboard.type('Short cello out');
  await goTo('Key');
  await page.keyboard.type('q');
  await goTo('Keep');
  await page.keyboard.press('Enter');
  await expect(panel(page, 'Kept sentences')).toContainText('Short cello out');
  await page.keyboard.press('Escape');
  await press(page, '6');
  await page.keyboard.press('q');
  await expect.poll(() => lastDone(page)).toMatch(/^Short cello out: \d+ notes in Cello$/);
  // It is there for any arrangement, also after a reload, and in the list of commands.
  await saved(page);
  await page.reload();
  await deskReady(page);
  await press(page, '6');
  await expect(page.getByRole('menuitem', { name: /Short cello out/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await press(page, '/');
  await page.keyboard.type('short cello');
  await expect(page.getByRole('option', { name: /Short cello out/ })).toBeVisible();
  expect(troubles).toEqual([]);
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

test('the score in a window of its own stays linked: selection, playhead, every change, and it takes over', async ({
  page,
  context,
  server,
}) => {
  await openDemo(page, server);
  const [score] = await Promise.all([context.waitForEvent('page'), list(page, 'y d')]);
  const pages = scorePages(score);
  await expect(pages.locator('g.note').first()).toBeAttached({ timeout: 30_000 });
  // What is selected on the Desk is marked in the score, and the other way round.
  await press(page, '.');
  await expect(pages.locator('g.note.chosen')).toHaveCount(1);
  const heads = pages.locator('g.note');
  await heads.nth(5).dispatchEvent('click');
  await expect(engraved(page).locator('g.note.chosen').first()).toBeAttached();
  // A change made there is carried out here, and the score shows it.
  await press(page, 'Escape', '.');
  const first = () =>
    pages
      // The head alone: a stem that points up ends where the head would be an octave higher.
      .locator('g.note.chosen g.notehead')
      .first()
      .evaluate((head) => (head as SVGGElement).getBBox().y);
  // A head of a picture that is just being replaced lies nowhere.
  await expect.poll(first, { timeout: 20_000 }).toBeGreaterThan(0);
  const before = await first();
  await list(page, 'p u');
  await expect.poll(first, { timeout: 20_000 }).not.toBe(before);
  await pages.focus();
  await score.keyboard.press('u');
  await expect.poll(first, { timeout: 20_000 }).toBe(before);
  await expect.poll(() => historyOf(page)).toEqual(['As brought in', expect.stringMatching(/^Transpose/)]);
  // The Desk's window goes: the other one keeps what is changed from there on.
  await saved(page);
  await page.close();
  await expect(score.getByText(/^The other window was closed/)).toBeVisible();
  await pages.focus();
  await score.keyboard.press('Shift+U');
  await expect.poll(first, { timeout: 20_000 }).not.toBe(before);
  await saved(score);
  await score.reload();
  await expect(pages.locator('g.note').first()).toBeAttached({ timeout: 30_000 });
  await score.getByRole('button', { name: 'Desk', exact: false }).first().click();
  await deskReady(score);
  expect(await historyOf(score)).toEqual(['As brought in', expect.stringMatching(/^Transpose/)]);
});
