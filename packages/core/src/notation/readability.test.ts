import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import type { Arrangement } from '../model/arrangement.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { buildScore } from './buildScore.js';
import { readPitches } from './pitchReading.js';
import { hardestBars, meanReadability, readabilityOf, signsOf, weightOf } from './readability.js';

const read = (arrangement: Arrangement, index = 0) => {
  const all = runPlanOnAll(arrangement);
  const maps = writtenMaps(arrangement);
  const part = arrangement.parts[index];
  if (!part) throw new Error('no such part');
  return readabilityOf(arrangement, part, all, maps, readPitches(arrangement, all));
};

describe('signs of a bar', () => {
  it('are heads, rests, ties, dots, accidentals, tuplets, short values and voices, each with its weight', () => {
    // C sharp dotted quarter, eighth tied over the bar line, rest in the second bar.
    const notes = [note(61, 0, 720), note(62, 720, 1200), note(64, 2880, 480)];
    const arrangement = arrangementWith([partWith(notes)], { keys: [{ tick: 0 as never, fifths: 0, minor: false }] });
    const layers = runPlanOnAll(arrangement);
    const score = buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers));
    const bars = score.parts[0]?.bars.map(signsOf) ?? [];
    expect(bars[0]).toMatchObject({ dots: 1, accidentals: 1, tuplets: 0, voices: 0, short: 0, rests: 0 });
    expect(bars[0]?.heads).toBeGreaterThanOrEqual(2);
    expect(bars[1]).toMatchObject({ heads: 1, rests: 2, ties: 0 });
    expect(
      weightOf({ heads: 1, rests: 1, ties: 1, dots: 1, accidentals: 1, tuplets: 1, short: 1, voices: 1 }),
    ).toBeCloseTo(7, 6);
  });
});

describe('readability', () => {
  it('is better after the plan than as played, part by part and nearly bar by bar, on the demo', () => {
    const demo = demoArrangement();
    demo.parts.forEach((_, index) => {
      const bars = read(demo, index);
      const mean = meanReadability(bars);
      expect(bars).toHaveLength(40);
      expect(mean?.after).toBeLessThan((mean?.before ?? 0) * 0.9);
      const better = bars.filter(({ before, after }) => after <= (before ?? 0) + 1e-9).length;
      expect(better / bars.length).toBeGreaterThan(0.9);
    });
  });

  it('counts values shorter than a sixteenth, and no sixteenth', () => {
    const run = (ticks: number) => {
      const notes = Array.from({ length: 8 }, (_, k) => note(60 + (k % 3), k * ticks, ticks));
      const arrangement = arrangementWith([partWith(notes)]);
      const layers = runPlanOnAll(arrangement);
      const score = buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers));
      return score.parts[0]?.bars.map(signsOf)[0]?.short;
    };
    expect(run(120)).toBe(0);
    expect(run(60)).toBe(8);
  });

  it('lists the bars that are hard, with what makes them so', () => {
    const plain = Array.from({ length: 28 }, (_, k) => note(60 + (k % 3), k * 480, 450));
    const dense = Array.from({ length: 32 }, (_, k) => note(61 + (k % 5), 7 * 1920 + k * 60, 55));
    const bars = read(arrangementWith([partWith([...plain, ...dense])]));
    const [hardest, ...others] = hardestBars(bars, 3);
    expect(hardest?.bar).toBe(8);
    expect(hardest?.hard).toContain('shorter than a sixteenth');
    expect(others).toEqual([]);
    expect(hardestBars(bars.slice(0, 7), 3)).toEqual([]);
  });

  it('says nothing of a part without notes', () => {
    expect(meanReadability(read(arrangementWith([partWith([])])))).toBeNull();
  });
});
