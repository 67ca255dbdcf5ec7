/** Several parts, edited as one: by key, by hand, by field, from window to window. */

import { deskReady, historyOf, lookAtNextNote, openDemo, press, roll, saved, spokenWords } from './desk.js';
import { expect, type Page, test } from './stage.js';

const foot = (page: Page) => page.getByRole('contentinfo');

const settings = (page: Page, name: string) => page.getByRole('region', { name, exact: true });

test('select in three parts, close gaps, and one undo takes it back', async ({ page, server, troubles }) => {
  await openDemo(page, server);
  for (const name of ['Clarinet in B flat', 'Horn in F', 'Tambourine']) {
    await page.getByRole('button', { name: `Hide ${name}`, exact: true }).click();
  }
  await press(page, 'r', 'a');
  await expect(foot(page)).toContainText('457 notes selected');
  await press(page, 'l', 'c');
  const label = /^Close gaps: \d+ notes in Flute, \d+ in Vibraphone, \d+ in Cello$/;
  await expect.poll(() => historyOf(page)).toEqual(['As brought in', expect.stringMatching(label)]);
  await press(page, 'u');
  await expect(page.getByRole('group', { name: 'Editing' }).getByRole('button', { name: 'Undo' })).toBeDisabled();
  // The selection is still there, and "again" does the same on what is selected now.
  await expect(foot(page)).toContainText('457 notes selected');
  await press(page, 'x');
  await expect.poll(() => historyOf(page)).toEqual(['As brought in', expect.stringMatching(label)]);
  expect(troubles).toEqual([]);
});

test('drag notes of four parts, kept to time; the undo brings all back', async ({ page, server, troubles }) => {
  await openDemo(page, server);
  const [x, y] = await lookAtNextNote(page);
  await press(page, 'r', 'a');
  for (const name of ['Horn in F', 'Tambourine']) {
    await page.getByRole('button', { name: `Lock ${name}: seen and heard, not edited` }).click();
  }
  await expect(foot(page)).toContainText('621 notes selected');
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 150, y - 60, { steps: 4 });
  await page.keyboard.press('t');
  await page.mouse.move(x + 160, y - 60);
  await page.mouse.up();
  await expect
    .poll(() => historyOf(page))
    .toEqual(['As brought in', 'Move: 164 notes in Flute, 164 in Clarinet in B flat, 177 in Vibraphone, 116 in Cello']);
  await press(page, 'u');
  await saved(page);
  expect(troubles).toEqual([]);
});

test('the edge that chords share is moved by hovering there alone', async ({ page, server }) => {
  await openDemo(page, server);
  // The vibraphone's chords, made to last under the pedal and to the next: they touch.
  await press(page, 'Alt+4', 'a', 't', 'g', 'l', 'u', 'l', 'c');
  await expect(page.getByText(/^Close gaps: \d+ notes in Vibraphone$/).first()).toBeVisible();
  await press(page, 'Escape');
  const [x, y] = await lookAtNextNote(page);
  const box = await roll(page).boundingBox();
  if (!box) throw new Error('There is no roll.');
  // From the middle of the note to its end: where the words at the foot tell of a shared edge.
  let seam = 0;
  for (let at = x; at < box.x + box.width && seam === 0; at += 3) {
    await page.mouse.move(at, y);
    if ((await foot(page).textContent())?.includes('notes share')) seam = at;
  }
  expect(seam).toBeGreaterThan(0);
  await expect(foot(page)).toContainText(/edge that these [4-9] notes share/);
  await page.mouse.down();
  await page.mouse.move(seam - 60, y, { steps: 3 });
  await page.mouse.up();
  await expect
    .poll(() => historyOf(page))
    .toContainEqual(expect.stringMatching(/^Move shared edge: [4-9] notes in Vibraphone/));
});

test('line up says what moves and how far, before it does', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, 'r', 'a', 't', 'l');
  const panel = settings(page, 'Line up');
  await expect(panel.getByRole('status')).toHaveText(/^\d+ notes of 6 parts move, \d+ ms at most/);
  const toMiddle = await panel.getByRole('status').textContent();
  await panel.getByLabel('Go to').selectOption({ label: 'Cello' });
  await expect(panel.getByRole('status')).not.toHaveText(toMiddle ?? '');
  const count = /^\d+/.exec((await panel.getByRole('status').textContent()) ?? '')?.[0];
  await panel.getByRole('button', { name: `Line up · ${count}` }).click();
  await expect
    .poll(() => historyOf(page))
    .toContainEqual(expect.stringMatching(/^Line up: \d+ notes in Flute, \d+ in/));
});

test('a selection is kept under a name, and comes back after a reload', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, 'r', 'a', 'i', 't', '3');
  const kept = /\d+/.exec((await foot(page).textContent()) ?? '')?.[0];
  await page.getByLabel('Name for this selection').fill('Top notes');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.reload();
  await press(page, '3');
  await page.getByRole('button', { name: 'Top notes', exact: true }).click();
  await expect(foot(page)).toContainText(`${kept} notes selected`);
});

test('a drawn note joins the chord it is drawn into', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, 'Alt+4');
  const [x, y] = await lookAtNextNote(page);
  await press(page, 'd', '3');
  await page.mouse.move(x, y - 40);
  await expect(foot(page)).toContainText('Click or drag to draw');
  await page.mouse.click(x - 100, y - 40);
  await expect.poll(() => historyOf(page)).toContainEqual('Draw: 1 note in Vibraphone');
  await press(page, '3');
  // As loud as what it joins, not the velocity of drawn notes on their own.
  await expect(page.getByLabel('Velocity', { exact: true })).not.toHaveValue('80');
});

test('mute and lock by key: silent notes stay, locked ones are not touched', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, '.', 'm');
  await expect.poll(() => historyOf(page)).toContainEqual('Mute: 1 note in Flute');
  await press(page, '3');
  await expect(settings(page, 'Selection')).toContainText('All muted.');
  await press(page, 'o', 'l', 'Delete');
  await expect(spokenWords(page)).toContainText('hidden or locked');
  await press(page, 'a');
  await expect(spokenWords(page)).toHaveText('Flute is locked. Unlock it to edit it.');
  await press(page, 'o', 'l', 'm');
  await expect.poll(() => historyOf(page)).toContainEqual('Sound again: 1 note in Flute');
});

test('after a quantize the doubtful starts are a walk, and each can go to the other line', async ({ page, server }) => {
  await openDemo(page, server);
  await press(page, 'a', 't', 'Shift+Q');
  const panel = settings(page, 'Quantize starts');
  await panel.getByLabel('Grid', { exact: true }).selectOption({ label: 'Eighth' });
  await panel.getByRole('button', { name: /^Quantize starts · [1-9]/ }).click();
  const walk = page.getByRole('region', { name: 'Starts that could have gone either way' });
  await expect(walk).toContainText(/1 of \d+/);
  await press(page, 'f', 'j');
  await expect(walk).toContainText(/2 of \d+/);
  await expect(foot(page)).toContainText('1 note selected');
  await press(page, 'f', 'o');
  await expect.poll(() => historyOf(page)).toContainEqual('The other line: 1 note in Flute');
  await walk.getByRole('button', { name: 'Done' }).click();
  await expect(walk).toHaveCount(0);
});

test('a feel is kept under a name, and laid on a part of another piece', async ({ page, server, troubles }) => {
  await openDemo(page, server);
  await press(page, 'a', 't', 'Shift+F');
  const panel = page.getByRole('region', { name: 'Follow' });
  await panel.getByLabel('Part to follow').selectOption('Cello');
  await panel.getByLabel('What it takes').selectOption('its feel, by place in the bar');
  await expect(panel.getByRole('img', { name: /^The feel of Cello/ })).toBeVisible();
  await panel.getByRole('button', { name: 'Keep this feel…' }).click();
  await panel.getByLabel('Name of the feel').fill('');
  await panel.getByRole('button', { name: 'Save' }).click();
  await expect(panel.getByRole('alert')).toHaveText('A feel needs a name.');
  await panel.getByLabel('Name of the feel').fill('As the cello sways');
  await panel.getByLabel('Name of the feel').press('Enter');
  await expect(spokenWords(page)).toHaveText('Kept the feel “As the cello sways”');

  await page.goto(server.address);
  await page.getByRole('link', { name: 'Lantern Prelude' }).click();
  await deskReady(page);
  await press(page, 'a', 't', 'Shift+F');
  await panel.getByLabel('What it takes').selectOption('its feel, by place in the bar');
  await panel.getByLabel('Whose feel').selectOption('As the cello sways');
  await expect(panel.getByRole('img', { name: /^The feel of As the cello sways/ })).toBeVisible();
  await panel.getByRole('button', { name: /^Follow · [1-9]/ }).click();
  await expect.poll(async () => (await historyOf(page)).at(-1)).toMatch(/^Follow/);
  await press(page, 'a', 't', 'Shift+F');
  // What was chosen last time is chosen again; a feel that is forgotten stays with those that have it.
  await panel.getByRole('button', { name: 'Forget “As the cello sways”' }).click();
  await expect(panel.getByRole('button', { name: /^Forget/ })).toHaveCount(0);
  await expect(panel.getByLabel('Whose feel')).toHaveValue('As the cello sways');
  expect(troubles).toEqual([]);
});
