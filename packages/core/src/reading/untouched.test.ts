import { describe, expect, it } from 'vitest';
import { quantizeStarts } from '../steps/quantizeStarts.js';
import { separateVoices } from '../steps/separateVoices.js';
import { settleLengths } from '../steps/settleLengths.js';
import { contextIn, note } from '../testing/kit.js';
import { exactEnds, isUntouched } from './untouched.js';

const context = contextIn(undefined, { until: 480 * 16, instrument: 'piano' });
const quarters = (list: readonly (readonly [pitch: number, at: number, length: number])[]) =>
  list.map(([pitch, at, length]) => note(pitch, Math.round(at * 480), Math.round(length * 480)));
/** Dotted half and a quarter's rest, four bars of it. */
const rests = quarters([0, 1, 2, 3].flatMap((bar) => [[60 + bar, bar * 4, 2] as const, [64, bar * 4 + 2, 1] as const]));

describe('a part with no human touch', () => {
  it('is known by its starts and ends; a hand is not', () => {
    expect(isUntouched(rests, context)).toBe(true);
    expect(
      isUntouched(quarters([0, 1, 2, 3, 4, 5, 6, 7].map((k) => [60 + k, k, 0.87 + k / 100] as const)), context),
    ).toBe(false);
    expect(isUntouched(rests.slice(0, 5), context)).toBe(false);
  });

  it('keeps its rests and lengths, thirds, fifths and sevenths among them', () => {
    const fine = [3, 5, 7].flatMap((parts, beat) =>
      Array.from({ length: parts }, (_, k) => [60 + k, beat + k / parts, 1 / parts] as const),
    );
    const notes = quarters([...fine, [60, 4, 3], [62, 8, 2], [64, 12, 1]]);
    const { notes: settled } = settleLengths.run(notes, context, settleLengths.defaults);
    expect(settled.slice(-3).map(({ duration }) => duration)).toEqual([1440, 960, 480]);
    expect(settled.some(({ staccato }) => staccato)).toBe(false);
    // Ends stand where the next notes start, though the ticks are rounded.
    const ends = exactEnds(notes, context);
    notes.slice(0, 14).forEach((_, index) => {
      expect(ends[index]).toBe(notes[index + 1]?.onset);
    });
  });

  it('has as many voices as sound apart, and both lengths of two that begin together', () => {
    const notes = quarters([
      [64, 0, 4],
      [55, 0, 1],
      [67, 4, 1],
      [60, 4, 1],
      [65, 5, 1],
      [62, 6, 2],
      [50, 6, 1],
    ]);
    const { notes: voiced } = separateVoices.run(notes, context, { ...separateVoices.defaults, hands: 'one' });
    expect(voiced.map(({ pitch, voice }) => `${pitch}:${voice ?? 1}`).sort()).toEqual(
      ['64:1', '55:2', '67:1', '60:1', '65:1', '62:1', '50:2'].sort(),
    );
  });

  it('is not moved by Quantize starts, also where its tones would make a roll', () => {
    // Thirty-seconds at 125 quarters a minute lie 60 ms apart, as the tones of a roll do.
    const notes = quarters([0, 1, 2, 3, 4, 5, 6, 7].map((k) => [60 + k, k / 8, 1 - k / 8] as const));
    expect(quantizeStarts.run(notes, context, quantizeStarts.defaults).changes).toEqual([]);
  });
});
