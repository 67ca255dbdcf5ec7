import { describe, expect, it } from 'vitest';
import { exportAbout } from './exportAbout.js';
import type { Arrangement } from './model/arrangement.js';
import { buildScore } from './notation/buildScore.js';
import { readPitches } from './notation/pitchReading.js';
import { runPlanOnAll } from './plan/runPlan.js';
import { writtenMaps } from './plan/writtenMaps.js';
import { arrangementWith, note, partWith } from './testing/kit.js';

const about = (arrangement: Arrangement) => {
  const layers = runPlanOnAll(arrangement);
  return exportAbout(buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers)));
};
const quarters = (count: number, pitch = 72) => Array.from({ length: count }, (_, k) => note(pitch, k * 480, 460));

describe('what a reader will find', () => {
  it('is counted: bars, parts, notes, a tied one once', () => {
    const held = [note(72, 0, 1920 * 2 - 20)];
    expect(
      about(arrangementWith([partWith(quarters(12)), partWith(held, { id: 2, name: 'Oboe', instrument: 'oboe' })])),
    ).toEqual({
      bars: 3,
      parts: 2,
      notes: 13,
      warnings: [],
    });
  });

  it('says who has nothing to play, and that there is no title', () => {
    const silent = partWith([], { id: 2, name: 'Horn', instrument: 'horn' });
    expect(about(arrangementWith([partWith(quarters(4)), silent], { title: ' ' })).warnings).toEqual([
      'The piece has no title.',
      'Horn has nothing to play.',
    ]);
  });

  it('says how many notes lie outside the range', () => {
    const [first, second, ...others] = quarters(8);
    if (!first || !second) throw new Error('there are eight');
    const low = (own: typeof first) => ({ ...own, pitch: 40 });
    expect(about(arrangementWith([partWith([low(first), low(second), ...others])])).warnings).toEqual([
      'Flute: 2 notes lie outside the instrument’s range.',
    ]);
    expect(about(arrangementWith([partWith([low(first), ...others, second])])).warnings).toEqual([
      'Flute: a note lies outside the instrument’s range.',
    ]);
  });

  it('names bars with tuplets that are seldom seen', () => {
    const five = Array.from({ length: 5 }, (_, k) => note(72 + k, 1920 + k * 96, 92));
    const seven = Array.from({ length: 7 }, (_, k) => note(72 + k, 3840 + Math.round((k * 480) / 7), 60));
    const notes = [...quarters(4), ...five, note(72, 2400, 460), ...seven, note(72, 4320, 460)];
    expect(about(arrangementWith([partWith(notes)])).warnings).toEqual([
      'Flute, bars 2 and 3: tuplets that are seldom seen.',
    ]);
  });
});
