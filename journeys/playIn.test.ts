/** Playing in: a take from a device, from the computer's keys and from the keyboard on the screen. */
import { type Arrangement, createTempoMap } from '@crispfold/core';
import { playOn, plugIn } from '../e2e/midiDevice.js';
import { historyOf, openDemo, pageReady, press, saved, spokenWords, takePlace } from './desk.js';
import { clean, expect, type Page, type Server, test } from './stage.js';

const arrangementOf = async (page: Page, server: Server): Promise<Arrangement> => {
  await saved(page);
  const id = /desk\/([^/?#]+)/.exec(page.url())?.[1];
  const answer = await page.request.get(new URL(`/api/arrangements/${id}`, server.address).href);
  return ((await answer.json()) as { arrangement: Arrangement }).arrangement;
};

test('a take from a device lands as one Edit, at the times its events are stamped with', async ({
  page,
  server,
  troubles,
}) => {
  await plugIn(page);
  await openDemo(page, server);
  await pageReady(page);
  await press(page, 'Home', 'k', 'i');
  const bar = page.getByRole('region', { name: 'Play in' });
  await expect(takePlace(page)).toHaveText('Flute: from bar 1 beat 1');
  await clean(page, { but: '.engraved' });
  await bar.getByLabel('MIDI device').check();
  await expect(bar.getByRole('status')).toHaveText('Listening to Test keys.');
  await bar.getByLabel('Count in').selectOption('no bar');
  const before = await arrangementOf(page, server);
  await press(page, 'Space');
  await expect(takePlace(page)).toHaveText('Flute: 0 notes so far');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  // Irregularly late: what counts is when they were played.
  await playOn(page, [
    { bytes: [0x90, 84, 90], at: 600, late: 130 },
    { bytes: [0xb0, 64, 127], at: 700, late: 10 },
    { bytes: [0x80, 84, 0], at: 900, late: 20 },
    { bytes: [0x90, 86, 60], at: 1000, late: 0 },
    { bytes: [0x90, 86, 0], at: 1250, late: 90 },
    { bytes: [0xfe], at: 1300, late: 0 },
  ]);
  await expect(takePlace(page)).toHaveText('Flute: 2 notes so far');
  await press(page, 'Space');
  await expect(spokenWords(page)).toHaveText('2 notes played in.');
  expect((await historyOf(page)).at(-1)).toBe('Play in: 2 notes in Flute');
  const after = await arrangementOf(page, server);
  const map = createTempoMap(after.tempos, after.ppq);
  const part = after.parts[0];
  const [first, second] = (part?.notes ?? []).filter(({ id }) => id >= before.nextNoteId);
  const at = (tick = 0) => map.secondsAt(tick) * 1000;
  // Within a tick, and what the browser rounds time stamps to.
  const close = (found: number, wanted: number) => expect(Math.abs(found - wanted)).toBeLessThan(3);
  close(at(second?.onset) - at(first?.onset), 400);
  close(at((first?.onset ?? 0) + (first?.duration ?? 0)) - at(first?.onset), 300);
  close(at((second?.onset ?? 0) + (second?.duration ?? 0)) - at(second?.onset), 250);
  expect([first?.pitch, first?.velocity, second?.pitch, second?.velocity]).toEqual([84, 90, 86, 60]);
  const pedals = (part?.events ?? []).filter((event) => event.kind === 'controller' && event.controller === 64);
  close(at(pedals[0]?.tick) - at(first?.onset), 100);
  // The pedal was never let go: it is up where the take ended.
  expect(pedals.at(-1)).toMatchObject({ value: 0 });
  await press(page, 'Escape');
  await press(page, 'Control+z');
  expect((await arrangementOf(page, server)).parts).toEqual(before.parts);
  expect(troubles).toEqual([]);
});
