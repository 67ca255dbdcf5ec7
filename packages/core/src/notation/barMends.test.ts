import { describe, expect, it } from 'vitest';
import { withGrid } from '../plan/plan.js';
import { READY_PLANS } from '../plan/readyPlans.js';
import { runPlan, runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { mendOfBar } from './barMends.js';
import { readPitches } from './pitchReading.js';

const mend = (onsets: readonly number[], bar: number) => {
  // Thirty-seconds everywhere: what is played unevenly becomes hard to read.
  const plan = withGrid(READY_PLANS.line, 1 / 32);
  const part = partWith(
    onsets.map((onset, k) => note(67 + (k % 4), onset, 200)),
    { plan },
  );
  const arrangement = arrangementWith([part]);
  const all = runPlanOnAll(arrangement);
  const maps = writtenMaps(arrangement);
  const found = mendOfBar(arrangement, part, all, maps, readPitches(arrangement, all), bar);
  return { found, part, arrangement, maps };
};
const even = Array.from({ length: 8 }, (_, k) => k * 240);

describe('a mend for a bar that is hard to read', () => {
  it('is a coarser grid in that bar alone, which moves nothing so far that one hears it', () => {
    const uneven = [0, 285, 480, 700, 1005, 1200, 1395, 1720].map((place) => 1920 + place);
    const { found, part, arrangement, maps } = mend([...even, ...uneven], 2);
    expect(found?.grid).toBe('Eighth');
    expect(found?.saved).toBeGreaterThan(3);
    expect(found?.furthest).toBeLessThanOrEqual(70);
    expect(found?.plan.passages.map(({ firstBar, lastBar }) => [firstBar, lastBar])).toEqual([[2, 2]]);
    const written = runPlan(part, arrangement.ppq, maps, found?.plan);
    expect(written.notes.slice(8).map(({ onset }) => onset / 5040)).toEqual([8, 9, 10, 11, 12, 13, 14, 15]);
  });

  it('is none where notes really are short: nothing is moved far, or lost', () => {
    const runs = Array.from({ length: 32 }, (_, k) => 1920 + k * 60);
    expect(mend([...even, ...runs], 2).found).toBeNull();
  });

  it('is none for a bar that is plain, nor for one that is not there', () => {
    expect(mend(even, 1).found).toBeNull();
    expect(mend(even, 40).found).toBeNull();
  });
});
