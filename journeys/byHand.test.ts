/** What the hand does to notes, and the keys that go with it: drags with their own keys, paste, moves, pieces, picking. */
import { focusRoll, historyOf, lookAtNextNote, openDemo, press, ROLL_HEAD, roll, spokenWords } from './desk.js';
import { expect, type Page, test } from './stage.js';

const foot = (page: Page) => page.getByRole('contentinfo');

const lastDone = async (page: Page): Promise<string> => (await historyOf(page)).at(-1) ?? '';

/** What a field of the selection shows. */
const field = async (page: Page, name: string): Promise<string> => {
  await press(page, '3');
  return page.getByLabel(name, { exact: true }).inputValue();
};

/** A place such as "3.2.40" in beats of four quarters, in ticks. */
const ticksOf = (place: string): number => {
  const [bar = 0, beat = 0, tick = 0] = place.split('.').map(Number);
  return ((bar - 1) * 4 + beat - 1) * 480 + tick;
};

/** Presses at a place, goes by so much, presses keys there, and lets go. */
const drag = async (
  page: Page,
  [x, y]: readonly [number, number],
  [dx, dy]: readonly [number, number],
  ...keys: string[]
): Promise<void> => {
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + dx, y + dy, { steps: 4 });
  for (const key of keys) await page.keyboard.press(key);
  await page.mouse.move(x + dx, y + dy);
  await page.mouse.up();
};
test('a drag has keys of its own: a copy, loudness, all the same, repeats on a finer grid', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  const middle = await lookAtNextNote(page);
  const pitch = await field(page, 'Pitch');
  await drag(page, middle, [0, -40], 'c');
  expect(await lastDone(page)).toMatch(/^Copy: 1 note in Flute$/);
  expect(await field(page, 'Pitch')).not.toBe(pitch);
  await press(page, 'u', 'a', '3');
  await expect(page.getByLabel('Velocity', { exact: true })).toHaveValue(/^\d+ to \d+$/);
  const spread = (await field(page, 'Velocity')).split(' to ').map(Number);
  await drag(page, middle, [0, -15], 'v');
  expect(await lastDone(page)).toMatch(/^Loudness: 164 notes in Flute$/);
  expect((await field(page, 'Velocity')).split(' to ').map(Number)).toEqual(
    spread.map((velocity) => Math.min(127, velocity + 10)),
  );
  await drag(page, middle, [0, -3], 'v', 'e');
  await drag(page, middle, [0, -15], 'v', 'e');
  expect(await field(page, 'Velocity')).toMatch(/^\d+$/);
  // Drawing: one long note, cut into repeats at the grid's value, made finer while the hand is still down.
  await press(page, 'Escape', 'Shift+3', 'd');
  await drag(page, [middle[0] - 300, middle[1] - 60], [300, 0], 'r', 'g');
  await expect.poll(() => lastDone(page)).toMatch(/^Draw: \d+ notes in Flute$/);
  // An eighth each; the first gives up what it begins late, as the chord does that it joins.
  expect(await field(page, 'Length')).toMatch(/^2[0-3]\d to 240$/);
  expect(troubles).toEqual([]);
});

test('pasting goes to the pointer, into the same bars of another part, and works without a clipboard', async ({
  page,
  server,
}) => {
  await page.addInitScript(() => Object.defineProperty(navigator, 'clipboard', { value: undefined }));
  await openDemo(page, server);
  await press(page, '.', 'b', 'c');
  await expect(spokenWords(page)).toHaveText('1 note copied, for this window: the browser gives no clipboard here.');
  const start = await field(page, 'Start');
  await press(page, 'n', 'b', 'f');
  expect(await lastDone(page)).toBe('Paste: 1 note in Clarinet in B flat');
  expect(await field(page, 'Start')).toBe(start);
  const [x, y] = await lookAtNextNote(page);
  await page.mouse.move(x + 300, y + 20);
  await press(page, 'b', 'p');
  await expect.poll(() => lastDone(page)).toBe('Paste: 1 note in Clarinet in B flat');
  expect(ticksOf(await field(page, 'Start'))).toBeGreaterThan(ticksOf(start));
  // To the playhead, then again on the next beat and on the next bar.
  await press(page, 'Home', 't', 'p');
  expect(await field(page, 'Start')).toBe('1.1.0');
  await press(page, 'b', 'r');
  expect(await lastDone(page)).toBe('Repeat: 1 note in Clarinet in B flat');
  expect(await field(page, 'Start')).toMatch(/^1\.[2-4]\.0$/);
  await press(page, 'b', 'b');
  expect(await field(page, 'Start')).toMatch(/^2\.[1-4]\.0$/);
});

test('arrows move by what was chosen; chords turn over; notes are cut where the playhead and the pointer are', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await press(page, '.');
  let before = ticksOf(await field(page, 'Start'));
  for (const [key, by] of [
    ['k', 1],
    ['b', 480],
    ['a', 1920],
    ['m', 9],
  ] as const) {
    await press(page, 'g', key, 'ArrowRight');
    const now = ticksOf(await field(page, 'Start'));
    // 10 ms are 9 ticks or so at the demo's tempo.
    expect(Math.abs(now - before - by)).toBeLessThanOrEqual(key === 'm' ? 2 : 0);
    before = now;
  }
  const length = await field(page, 'Length');
  await press(page, 't', 'd');
  expect(Number(await field(page, 'Length'))).toBe(2 * Number(length));
  await press(page, 't', 'h');
  expect(await field(page, 'Length')).toBe(length);
  const [x, y] = await lookAtNextNote(page);
  await page.mouse.move(x, y);
  await press(page, 'l', 'o');
  expect(await lastDone(page)).toMatch(/^Split: 1 note in Flute/);
  await press(page, 'u', 'Alt+4', 'a');
  const low = (await field(page, 'Pitch')).split(' to ')[0];
  await press(page, 'p', 'i');
  expect(await lastDone(page)).toMatch(/^Turn chords upward: \d+ notes in Vibraphone$/);
  expect((await field(page, 'Pitch')).split(' to ')[0]).not.toBe(low);
  await press(page, 'p', 'o');
  expect(await lastDone(page)).toMatch(/^Turn chords downward: \d+ notes in Vibraphone$/);
});

test('random pitches and line up of ends are tried, carried out with Enter, and had again', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  await press(page, 'r', 'a', 't', 'l');
  const lineUp = page.getByRole('region', { name: 'Line up', exact: true });
  await lineUp.getByLabel('Their').selectOption({ label: 'ends' });
  await lineUp.getByLabel('Keep each part’s own lean').check();
  await expect(lineUp.getByRole('status')).toHaveText(/^\d+ notes of 6 parts move/);
  await lineUp.focus();
  await page.keyboard.press('Enter');
  await expect.poll(() => lastDone(page)).toMatch(/^Line up ends?: \d+ notes in Flute|^Line up: \d+ notes in Flute/);
  await press(page, 'Escape', 'Alt+5', 'r', 'a', 'p', 'r');
  const random = page.getByRole('region', { name: 'Random pitches', exact: true });
  await expect(random.getByRole('status')).toHaveText(/^On 116 selected notes\.$/);
  await page.keyboard.press('Enter');
  await expect(random).toHaveCount(0);
  await expect.poll(() => lastDone(page)).toMatch(/^Random pitches: \d+ notes in Cello$/);
  await press(page, 'x');
  await expect(spokenWords(page)).toHaveText(/^Random pitches: \d+ notes in Cello$/);
  expect(await lastDone(page)).toMatch(/^Random pitches/);
});

test('picking: octaves, the same beat, overlaps, tones of chords; added click by click; locked parts stay out of a box', async ({
  page,
  server,
}) => {
  await openDemo(page, server);
  const chosen = async () => Number(/(\d+) notes? selected/.exec((await foot(page).textContent()) ?? '')?.[1] ?? 0);
  await press(page, '.', 'i', 'p');
  const same = await chosen();
  await press(page, 'i', 'o');
  expect(await chosen()).toBeGreaterThanOrEqual(same);
  await press(page, 'i', 'b');
  expect(await chosen()).toBeGreaterThan(1);
  await press(page, 'Alt+4', 'a');
  const all = await chosen();
  await press(page, 'i', 'm');
  const inner = await chosen();
  await press(page, 'a', 'i', 'l');
  const bottom = await chosen();
  await press(page, 'a', 'i', 't');
  expect(await chosen()).toBe(bottom);
  expect(inner + 2 * bottom).toBeLessThanOrEqual(all);
  expect(inner).toBeGreaterThan(0);
  await press(page, 'i', 'v');
  expect(await chosen()).toBeGreaterThan(0);
  // Adding switched on: a click on a selected note takes it out, with nothing held.
  const middle = await lookAtNextNote(page);
  await expect(foot(page)).toContainText('1 note selected');
  await press(page, 'i', 'k');
  await page.mouse.click(...middle);
  await expect(foot(page)).not.toContainText('1 note selected');
  await press(page, 'i', 'k', '0', 'r');
  // A box over the whole roll: all but the locked part.
  await page.getByRole('button', { name: 'Lock Flute: seen and heard, not edited' }).click();
  const box = await roll(page).boundingBox();
  if (!box) throw new Error('There is no roll.');
  await page.mouse.move(box.x + 42, box.y + ROLL_HEAD + 4);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 3, box.y + box.height - 3, { steps: 4 });
  await page.mouse.up();
  await expect(foot(page)).toContainText(`${779 - 164} notes selected`);
  await focusRoll(page);
});
