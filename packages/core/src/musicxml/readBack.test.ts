/** What we write, read by two readers that are not ours: Verovio (its timemap) and OpenSheetMusicDisplay (its sheet model). */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { MADE_STYLES, madeScore } from '../demo/madeScore.js';
import { perform } from '../demo/performer.js';
import { INSTRUMENTS, type Instrument, isUnpitched } from '../instruments/instruments.js';
import { importMidi } from '../midi/importMidi.js';
import { readMidi } from '../midi/readMidi.js';
import type { Arrangement } from '../model/arrangement.js';
import { buildScore, type ScoreOptions } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import type { Score } from '../notation/score.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { cases, THOROUGH } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import {
  createOpenSheetMusicDisplay,
  createVerovio,
  headRows,
  pitchedPartsOf,
  soundingRows,
} from '../testing/readBack.js';
import { ticks } from '../time/units.js';
import { noteheadId, writeMusicXml } from './writeMusicXml.js';

let verovio: Awaited<ReturnType<typeof createVerovio>>;
let openSheetMusicDisplay: Awaited<ReturnType<typeof createOpenSheetMusicDisplay>>;
beforeAll(async () => {
  verovio = await createVerovio();
  openSheetMusicDisplay = await createOpenSheetMusicDisplay();
});

/** Slices of an arrangement's score, the plan run once. */
const scores = (arrangement: Arrangement) => {
  const layers = runPlanOnAll(arrangement);
  const maps = writtenMaps(arrangement);
  const reading = readPitches(arrangement, layers);
  return (options: ScoreOptions = {}): Score => buildScore(arrangement, layers, maps, reading, options);
};

/** Readers count from the first bar that they see. */
const fromItsFirstBar = (score: Score): Score => ({
  ...score,
  parts: score.parts.map((part) => ({
    ...part,
    bars: part.bars.map((bar) => ({ ...bar, start: bar.start - (part.bars[0]?.start ?? 0) })),
  })),
});

/**
 * Verovio plays the tones of a rolled chord one after the other, and grace notes in the time of theirs: its times are then no
 * longer those of the page.
 */
const unrolled = (score: Score): Score => ({
  ...score,
  parts: score.parts.map((part) => ({
    ...part,
    bars: part.bars.map((bar) => ({
      ...bar,
      events: bar.events.map(({ arpeggio: _, graces: _graces, ...event }) => event),
    })),
  })),
});

/**
 * True where two voices of a staff have one line at once and one of them is tied: OpenSheetMusicDisplay joins ties by the
 * line they stand on, and takes one voice's for the other's.
 */
const tiesMeet = ({ parts }: Score): boolean =>
  parts.some(({ bars }) => {
    const heads = bars.flatMap(({ start, events }) =>
      events.flatMap((event) =>
        event.notes.map(({ spelling, tiedTo, tiedFrom }) => ({
          line: `${event.staff} ${spelling.step} ${spelling.octave}`,
          voice: event.voice,
          from: start + event.start,
          to: start + event.start + event.length,
          tied: tiedTo || tiedFrom,
        })),
      ),
    );
    return heads.some(
      (one) =>
        one.tied &&
        heads.some(
          (other) =>
            other.line === one.line && other.voice !== one.voice && other.from <= one.to && other.to >= one.from,
        ),
    );
  });

/** A made score whose two voices tie one line at once. */
const WITH_MEETING_TIES = {
  seed: 244_285,
  kind: 'keyboard',
  style: 'sixteenths',
  meter: { numerator: 5, denominator: 8 },
  bars: 4,
  spread: 40,
} as const;

/** Both readers find what the Score says, and the engraver has nothing to complain of. */
const expectReadBack = (whole: Score, bothReaders = true): void => {
  const score = unrolled(fromItsFirstBar(pitchedPartsOf(whole)));
  const musicXml = writeMusicXml(score);
  const before = verovio.warnings.length;
  expect(verovio.headRows(musicXml)).toEqual(headRows(score));
  if (bothReaders) expect(openSheetMusicDisplay(musicXml)).toEqual(soundingRows(score));
  verovio.load(writeMusicXml(whole));
  expect(verovio.warnings.slice(before)).toEqual([]);
};

const exact = { seed: 9, ppq: 480, spread: 0, lengths: [1, 1], doubles: 0, specks: 0 } as const;

describe('read back by Verovio and OpenSheetMusicDisplay, without one warning', () => {
  it('the demo', () => {
    expectReadBack(scores(demoArrangement())());
  });

  it('a keyboard piece on two staves, played by a person', () => {
    const recipe = { seed: 4, kind: 'keyboard', style: 'mixed', bars: 24, quartersPerMinute: 96 } as const;
    const played = perform(madeScore({ ...recipe, meter: { numerator: 4, denominator: 4 } }), {
      ...exact,
      spread: 10,
      lengths: [0.8, 1.04],
      doubles: 0.02,
      specks: 0.02,
    });
    expectReadBack(scores(played)());
  });

  // Slices: what the timemap costs grows with the square of the notes.
  it.each([0, 1, 2, 3, 4, 5, 6, 7, 8, 9])('two slices of planetblupi’s music00%i.mid (Debian)', (number) => {
    const name = `music00${number}.mid`;
    const result = importMidi([{ name, bytes: new Uint8Array(readFileSync(`/usr/share/planetblupi/music/${name}`)) }]);
    if (!result.ok) throw new Error(result.problem.message);
    const slice = scores(result.value.arrangement);
    expectReadBack(slice({ firstBar: 1, lastBar: THOROUGH ? 12 : 8 }));
    // OpenSheetMusicDisplay joins ties by the line they stand on: in bar 40 of the third, where two voices tie B flat and
    // B natural at once, it takes one for the other.
    const lastBar = number === 3 ? 39 : THOROUGH ? 44 : 41;
    expectReadBack(slice({ firstBar: 35, lastBar }));
  });

  it('made scores, of all kinds and styles, in six meters', () => {
    const meters = [
      [4, 4],
      [3, 4],
      [2, 4],
      [6, 8],
      [3, 8],
      [5, 8],
    ] as const;
    const recipes = fc.record({
      seed: fc.integer({ min: 1, max: 1_000_000 }),
      kind: fc.constantFrom('line' as const, 'chords' as const, 'keyboard' as const),
      style: fc.constantFrom(...MADE_STYLES),
      meter: fc.constantFrom(...meters).map(([numerator, denominator]) => ({ numerator, denominator })),
      bars: fc.integer({ min: 1, max: 5 }),
      spread: fc.constantFrom(0, 15, 40),
    });
    const runs = cases(60);
    let leftOut = 0;
    fc.assert(
      fc.property(recipes, ({ spread, ...recipe }) => {
        const composed = madeScore({ ...recipe, quartersPerMinute: 100 });
        const played = perform(composed, { ...exact, spread, lengths: spread ? [0.7, 1.05] : [1, 1] });
        const score = unrolled(scores(played)());
        const meet = tiesMeet(score);
        if (meet) leftOut += 1;
        expectReadBack(score, !meet);
      }),
      // The score of which it was found comes first.
      { ...runs, examples: [[{ ...WITH_MEETING_TIES }]] },
    );
    expect(leftOut).toBeLessThan(0.15 * runs.numRuns);
  });

  const pitched = INSTRUMENTS.filter((instrument) => !isUnpitched(instrument));
  /** From the bottom of the range to its top and back, a bar on each place, so that clefs and octave lines have their turn. */
  const throughTheRange = ({ id, lowest, highest }: Instrument): Arrangement => {
    const [low, high] = [Math.max(21, lowest), Math.min(108, highest)];
    const notes = [0, 0.3, 0.7, 1, 1, 0.5, 0].flatMap((place, bar) =>
      [0, 2, 4, 2, 0, 1, 3, 1].map((up, k) => {
        const pitch = Math.min(high, Math.max(low, Math.round(low + place * (high - low)) + (place === 1 ? -up : up)));
        return note(pitch, bar * 1920 + k * 240, 230);
      }),
    );
    return arrangementWith([partWith(notes, { instrument: id, name: id })]);
  };

  it.each(pitched.map((instrument) => [instrument.name, instrument] as const))(
    '%s through its range',
    (_, instrument) => {
      const score = scores(throughTheRange(instrument));
      expectReadBack(score());
      expectReadBack(score({ concertPitch: true }));
    },
  );

  it('clefs that change and octave lines are among them', () => {
    const files = ['cello', 'piano', 'marimba'].map((id) =>
      writeMusicXml(scores(throughTheRange(INSTRUMENTS.find((own) => own.id === id) as Instrument))()),
    );
    expect(files.map((file) => (file.match(/<clef/g) ?? []).length)).toEqual([
      expect.toSatisfy((count: number) => count > 1),
      expect.toSatisfy((count: number) => count > 1),
      expect.toSatisfy((count: number) => count > 1),
    ]);
    expect(files[1]).toContain('<octave-shift type="down"');
    expect(files[1]?.match(/<octave-shift type="stop"/g)?.length).toBe(
      files[1]?.match(/<octave-shift type="(?:up|down)"/g)?.length,
    );
  });

  it('a piece that slows down, with words for it and the tempo at each place', () => {
    const notes = Array.from({ length: 32 }, (_, k) => note(60 + (k % 5), k * 480, 470));
    const tempos = [0, 5760, 6240, 6720, 7200, 7680].map((tick, step) => ({
      tick: ticks(tick),
      microsecondsPerQuarter: [500_000, 520_000, 545_000, 575_000, 610_000, 500_000][step] as number,
    }));
    const score = scores(arrangementWith([partWith(notes)], { tempos }))();
    const musicXml = writeMusicXml(score);
    expect([...musicXml.matchAll(/<words[^>]*>([^<]*)</g)].map((found) => found[1])).toEqual(['rit.', 'a tempo']);
    expect(musicXml.match(/tempo="[\d.]+"/g)).toHaveLength(6);
    expectReadBack(score);
  });

  it('a pickup', () => {
    const notes = Array.from({ length: 9 }, (_, k) => note(60 + k, 1440 + k * 480, 440));
    const meters = [{ tick: ticks(0), numerator: 4, denominator: 4, pickup: ticks(1440) }];
    const score = scores(arrangementWith([partWith(notes)], { meters }))();
    expect(score.bars[0]?.pickup).toBe(true);
    expectReadBack(score);
  });

  it('would notice a wrong pitch and an open tie', () => {
    const score = pitchedPartsOf(scores(demoArrangement())());
    const musicXml = writeMusicXml(score);
    expect(verovio.headRows(musicXml.replace('<octave>5</octave>', '<octave>4</octave>'))).not.toEqual(headRows(score));
    expect(openSheetMusicDisplay(musicXml.replace('<octave>5</octave>', '<octave>4</octave>'))).not.toEqual(
      soundingRows(score),
    );
    const before = verovio.warnings.length;
    verovio.load(musicXml.replaceAll('<tied type="stop"/>', ''));
    expect(verovio.warnings.length).toBeGreaterThan(before);
  });
});

describe('Verovio', () => {
  it('sounds the demo at the same pitches and places, transposing instruments too (its MIDI)', () => {
    const pitched = unrolled(pitchedPartsOf(scores(demoArrangement())()));
    verovio.load(writeMusicXml(pitched));
    const midi = readMidi(Uint8Array.from(Buffer.from(verovio.toolkit.renderToMIDI(), 'base64')));
    if (!midi.ok) throw new Error(midi.problem.message);
    const place = (onset: number, pitch: number) => `${onset.toFixed(1)} ${pitch}`;
    const theirs = midi.value.tracks.flatMap((track) =>
      track.notes.map((own) => place(own.onset / midi.value.ppq, own.pitch)),
    );
    const ours = soundingRows(pitched).map((line) => {
      const [onset, , pitch] = line.split(' ').map(Number) as [number, number, number];
      return place(onset, pitch);
    });
    expect(theirs.sort()).toEqual(ours.sort());
  });

  it('shows the demo’s grace notes and its trill where they are, and draws the rolled chord', () => {
    const score = scores(demoArrangement())();
    verovio.load(writeMusicXml(score));
    const events = score.parts.flatMap(({ bars }) => bars.flatMap((bar) => bar.events));
    const graces = events.flatMap((event) => event.graces ?? []);
    expect(graces).toHaveLength(2);
    const pages = Array.from({ length: verovio.toolkit.getPageCount() }, (_, page) =>
      verovio.toolkit.renderToSVG(page + 1),
    );
    const svg = pages.join('');
    for (const { noteId } of graces) expect(svg).toContain(`id="n${noteId}"`);
    expect(svg.match(/class="trill"/g)).toHaveLength(1);
    expect(svg.match(/class="arpeg"/g)).toHaveLength(1);
  });

  it('keeps the ids of heads, so that a click on the picture finds the note', () => {
    const pitched = pitchedPartsOf(scores(demoArrangement())());
    verovio.load(writeMusicXml(pitched));
    const first = pitched.parts[0]?.bars[0]?.events[0]?.notes[0];
    expect(first && verovio.toolkit.renderToSVG(1).includes(`id="${noteheadId(first, 1)}"`)).toBe(true);
  });
});
