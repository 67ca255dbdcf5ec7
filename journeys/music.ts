/** Music that journeys bring in. */
import {
  asComposed,
  FREE_KINDS,
  MELODIES,
  madeScore,
  perform,
  rememberedScore,
  writePlayedMidi,
} from '@crispfold/core';
import { deskReady, pageReady } from './desk.js';
import type { Page, Server } from './stage.js';

/** Brings a melody from memory in as a flute played it, and opens it with its page: a dozen bars, its pickup not yet noticed. */
export const bringInTune = async (page: Page, server: Server, title: string): Promise<void> => {
  const tune = MELODIES.find(([name]) => name === title);
  if (!tune) throw new Error(`There is no ${title}.`);
  const score = rememberedScore(tune);
  const composed = asComposed(score, { instrument: 'flute', program: 73 }, 96, false);
  const hidden = { ...composed, parts: composed.parts.map((part) => ({ ...part, notes: score.notes })) };
  const played = perform(hidden, { seed: 3, ppq: 480, spread: 12, lengths: [0.85, 0.97], doubles: 0, specks: 0 });
  await page.goto(server.address);
  await page
    .getByLabel('MIDI files', { exact: true })
    .setInputFiles({ name: `${title}.mid`, mimeType: 'audio/midi', buffer: Buffer.from(writePlayedMidi(played)) });
  await pageReady(page);
};

/** A keyboard of two hands in several voices, and a kit with a sound that no table knows. */
export const bringInBand = async (page: Page, server: Server): Promise<void> => {
  const made = (kind: 'keyboard' | 'percussion', seed: number) =>
    perform(
      madeScore({
        seed,
        kind,
        style: 'mixed',
        meter: { numerator: 4, denominator: 4 },
        bars: 16,
        quartersPerMinute: 96,
      }),
      { seed: 9, ppq: 480, spread: 10, lengths: [0.8, 1.04], doubles: 0.02, specks: 0.02 },
    );
  const keyboard = made('keyboard', 4);
  const [kit] = made('percussion', 3).parts;
  if (!kit) throw new Error('No kit was made.');
  const notes = kit.notes.map((note, at) => (at % 9 === 4 ? { ...note, pitch: 84 } : note));
  const band = { ...keyboard, title: 'Band', parts: [...keyboard.parts, { ...kit, id: 50, name: 'Kit', notes }] };
  await page.goto(server.address);
  await page.getByLabel('MIDI files', { exact: true }).setInputFiles({
    name: 'Band.mid',
    mimeType: 'audio/midi',
    buffer: Buffer.from(writePlayedMidi(band)),
  });
  await deskReady(page);
  await pageReady(page);
};

/** A melody from memory, played with wander, rubato and ritardando in a file that says 120. */
export const bringInTake = async (page: Page, server: Server): Promise<void> => {
  const kind = FREE_KINDS.find(({ name }) => name.includes('lone flute')) as (typeof FREE_KINDS)[number];
  const bytes = writePlayedMidi(kind.sample(5, 0).arrangement);
  await page.goto(server.address);
  await page
    .locator('input[type="file"]')
    .first()
    .setInputFiles({ name: 'Take.mid', mimeType: 'audio/midi', buffer: Buffer.from(bytes) });
  await deskReady(page);
  await pageReady(page);
};
