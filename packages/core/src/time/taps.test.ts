import { describe, expect, it } from 'vitest';
import { tapsTogether, tempoOfTaps } from './taps.js';

const taps = (beat: number, count: number, from = 0): number[] =>
  Array.from({ length: count }, (_, index) => from + index * beat);

describe('a tempo that is tapped', () => {
  it('is that of even taps; fewer than three say nothing', () => {
    expect(tempoOfTaps(taps(0.5, 8))).toBeCloseTo(120, 9);
    expect(tempoOfTaps(taps(0.75, 4, 1000))).toBeCloseTo(80, 9);
    expect(tempoOfTaps(taps(0.5, 2))).toBeNull();
  });

  it('is not thrown off by a hand that wavers by 20 ms', () => {
    const wavering = taps(0.6, 12).map((time, index) => time + (index % 2 === 0 ? 0.02 : -0.02));
    expect(Math.abs((tempoOfTaps(wavering) ?? 0) - 100)).toBeLessThan(1);
  });

  it('begins anew after a pause, and stays between 20 and 400', () => {
    expect(tapsTogether([...taps(0.5, 6), ...taps(1, 4, 20)])).toEqual(taps(1, 4, 20));
    expect(tempoOfTaps([...taps(0.5, 6), ...taps(1, 4, 20)])).toBeCloseTo(60, 9);
    expect(tempoOfTaps(taps(0.01, 5))).toBe(400);
    expect(tempoOfTaps([1, 1, 1])).toBeNull();
  });
});
