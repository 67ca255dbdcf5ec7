import { describe, expect, it } from 'vitest';
import type { PartId } from '../model/arrangement.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { arrangementWith, note, PPQ, partWith } from '../testing/kit.js';
import { ticks, WRITTEN_PPQ } from '../time/units.js';
import { pagePlaces, pitchPointedAt } from './pageStaves.js';

const NONE: ReadonlySet<number> = new Set();

const placesOf = (instrument: string, pitches: readonly number[], fifths = 0, more: object = {}) => {
  const part = partWith(
    pitches.map((pitch, index) => note(pitch, index * PPQ, PPQ)),
    { instrument, plan: { name: 'none', steps: [], passages: [] } as never, ...more },
  );
  const arrangement = arrangementWith([part], { keys: [{ tick: ticks(0), fifths, minor: false }] });
  const layers = runPlanOnAll(arrangement);
  return pagePlaces(buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers)));
};

/** What stands on the middle line (step 4) at a place. */
const middleLine = (places: ReturnType<typeof placesOf>, staff = 0, at = 0) => {
  const own = places.staves[staff];
  const bar = own?.bars[0];
  return own && bar ? pitchPointedAt(own, bar, 4, at, NONE) : undefined;
};

describe('the pitch that a point on a staff stands for', () => {
  it('goes by clef, key and transposition', () => {
    expect(middleLine(placesOf('flute', [72]))).toBe(71);
    // F major lowers it.
    expect(middleLine(placesOf('flute', [72], -1))).toBe(70);
    expect(middleLine(placesOf('cello', [48]))).toBe(50);
    expect(middleLine(placesOf('viola', [60]))).toBe(60);
    // A clarinet in B flat reads two sharps more: its B natural sounds A.
    expect(middleLine(placesOf('clarinet', [72]))).toBe(69);
    // A double bass sounds an octave below its bass clef.
    expect(middleLine(placesOf('doubleBass', [40]))).toBe(38);
  });

  it('sounds an octave higher under an octave line', () => {
    const high = placesOf(
      'vibraphone',
      Array.from({ length: 12 }, () => 96),
    );
    const [bar] = high.staves[0]?.bars ?? [];
    expect(bar?.octaves).toEqual([{ from: 0, to: 4 * WRITTEN_PPQ, by: 1 }]);
    expect(middleLine(high)).toBe(83);
  });

  it('is the sound that stands there on a percussion staff, one that the part uses before another', () => {
    const drums = placesOf('percussion', [38, 38], 0, { channel: 9 });
    const [staff] = drums.staves;
    const bar = staff?.bars[0];
    if (!staff || !bar) throw new Error('no staff');
    // The third space is the snare's; side stick and clap stand there too.
    expect(pitchPointedAt(staff, bar, 5, 0, new Set([38]))).toBe(38);
    expect(pitchPointedAt(staff, bar, 5, 0, new Set([39]))).toBe(39);
    expect(pitchPointedAt(staff, bar, 20, 0, NONE)).toBeNull();
  });

  it('is none beyond what MIDI has', () => {
    const [staff] = placesOf('flute', [72]).staves;
    const bar = staff?.bars[0];
    if (!staff || !bar) throw new Error('no staff');
    expect(pitchPointedAt(staff, bar, 60, 0, NONE)).toBeNull();
    expect(pitchPointedAt(staff, bar, -60, 0, NONE)).toBeNull();
  });
});

it('heads of a picture stand where their notes are written', () => {
  const { heads } = placesOf('flute', [72, 74, 76]);
  expect(heads.map(([, at]) => at)).toEqual([0, WRITTEN_PPQ, 2 * WRITTEN_PPQ]);
  expect(new Set(heads.map(([id]) => id)).size).toBe(3);
  expect(placesOf('flute', [72]).staves.map(({ partId }) => partId)).toEqual([1 as PartId]);
});
