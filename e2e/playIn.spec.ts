/** Playing in: a take from a device, from the computer's keys and from the keyboard on the screen. */
import type { Arrangement } from '@crispfold/core';
import { historyOf, openDemo, pageReady, press, saved, spokenWords, takePlace } from '../journeys/desk.js';
import { expect, type Page, type Server, test } from '../journeys/stage.js';

const arrangementOf = async (page: Page, server: Server): Promise<Arrangement> => {
  await saved(page);
  const id = /desk\/([^/?#]+)/.exec(page.url())?.[1];
  const answer = await page.request.get(new URL(`/api/arrangements/${id}`, server.address).href);
  return ((await answer.json()) as { arrangement: Arrangement }).arrangement;
};

test('a take on the computer’s keys is counted in, replaces what stood there, or is thrown away', async ({
  page,
  server,
  troubles,
}) => {
  await openDemo(page, server);
  await pageReady(page);
  await press(page, 'Home', 'k', 'i');
  const bar = page.getByRole('region', { name: 'Play in' });
  const place = takePlace(page);
  await bar.getByLabel('Lands').selectOption('in its place');
  const before = await arrangementOf(page, server);
  await press(page, 'Space');
  await expect(spokenWords(page)).toHaveText('Counting in 1 bar');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  // Held from the count-in into bar 1, on the screen's keyboard.
  const key = await bar.getByRole('button', { name: /^Key 8: G4/ }).boundingBox();
  await page.mouse.move((key?.x ?? 0) + 12, (key?.y ?? 0) + 40);
  await page.mouse.down();
  await expect(page.getByLabel('Playhead')).toHaveText(/^bar 1, beat [234]/);
  await page.mouse.up();
  await page.keyboard.down('d');
  await expect(page.getByLabel('Playhead')).toHaveText(/^bar [2-9]/);
  await page.keyboard.up('d');
  await press(page, 'Space');
  await expect(spokenWords(page)).toHaveText('2 notes played in. 1 of them before the beginning, kept there.');
  const after = await arrangementOf(page, server);
  const notes = after.parts[0]?.notes ?? [];
  const made = notes.filter(({ id }) => id >= before.nextNoteId);
  expect(made.map(({ pitch }) => pitch)).toEqual([67, 64]);
  expect(made[0]?.onset).toBe(0);
  expect(made[0]?.velocity).toBeGreaterThan(90);
  expect(notes.length).toBeLessThan((before.parts[0]?.notes.length ?? 0) + 2);
  // Thrown away: nothing changes.
  await press(page, 'Space');
  await page.keyboard.press('d');
  await expect(place).toHaveText('Flute: 1 note so far');
  await press(page, 'Escape');
  await expect(spokenWords(page)).toHaveText('The take is thrown away.');
  expect(await historyOf(page)).toHaveLength(2);
  await press(page, 'Escape');
  await expect(bar).toHaveCount(0);
  expect(troubles).toEqual([]);
});
