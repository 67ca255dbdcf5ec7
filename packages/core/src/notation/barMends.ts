/** What would make a bar easier to read: a coarser grid in that bar alone, where the playing bears it. */
import type { Arrangement, Part } from '../model/arrangement.js';
import type { Plan } from '../model/plan.js';
import type { Grid } from '../model/stepParameters.js';
import { gridOf, withPassageGrid } from '../plan/plan.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan } from '../plan/runPlan.js';
import type { Written } from '../plan/written.js';
import type { WrittenMaps } from '../plan/writtenMaps.js';
import { GRIDS } from '../reading/grids.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';
import type { PitchReading } from './pitchReading.js';
import { barsWith, weightOf } from './readability.js';

/** A plan that has one bar on a grid of its own, and what comes of it. */
export interface BarMend {
  readonly bar: number;
  readonly plan: Plan;
  /** The name of the grid. */
  readonly grid: string;
  /** Weighted signs that are no longer there. */
  readonly saved: number;
  /** How far the written starts of the bar lie from where they were played, at most, in milliseconds. */
  readonly furthest: number;
}

/** A start is not written further than this from where it was played, in milliseconds (judged: a hearer would notice). */
const FURTHEST = 70;
/** Notes played within so many milliseconds may be one chord. */
const TOGETHER = 40;
/** A mend takes away at least this share of the bar's weight. */
const WORTH = 0.15;

/** The best mend of a bar of a part, by its number; null where none is worth it. */
export const mendOfBar = (
  arrangement: Arrangement,
  part: Part,
  all: readonly Written[],
  maps: WrittenMaps,
  reading: PitchReading,
  number: number,
): BarMend | null => {
  const plan = planOf(part);
  const bar = maps.meterMap.barNumbered(number);
  const layer = all.find(({ partId }) => partId === part.id);
  if (!layer) return null;
  const played = new Map(part.notes.map(({ id, onset }) => [id, rescaleTicks(onset, arrangement.ppq, WRITTEN_PPQ)]));
  const inBar = ({ notes }: Written) => notes.filter(({ onset }) => onset >= bar.start && onset < bar.end);
  const furthestIn = (written: Written) =>
    Math.max(
      0,
      ...inBar(written).map(({ id, onset }) => {
        const from = played.get(id);
        return from === undefined ? 0 : Math.abs(onset - from) / maps.tempoMap.ticksPerMillisecond(onset);
      }),
    );
  const merges = (written: Written) => {
    const earliest = new Map<number, number>();
    return inBar(written).some(({ id, onset }) => {
      const from = played.get(id);
      if (from === undefined) return false;
      const first = earliest.get(onset);
      if (first === undefined) earliest.set(onset, from);
      return first !== undefined && Math.abs(from - first) > TOGETHER * maps.tempoMap.ticksPerMillisecond(onset);
    });
  };
  const weightIn = (written: Written) => {
    const only = { firstBar: bar.index + 1, lastBar: bar.index + 1 };
    const counts = barsWith(arrangement, written, all, maps, reading, only).get(number);
    return counts ? weightOf(counts) : null;
  };
  const now = weightIn(layer);
  if (now === null) return null;
  const mends = GRIDS.flatMap(({ grid, name }): BarMend[] => {
    if (grid === 'auto' || grid === gridOf(plan)) return [];
    const mended = withPassageGrid(plan, number, number, grid as Grid);
    const written = runPlan({ ...part, plan: mended }, arrangement.ppq, maps, mended);
    const weight = weightIn(written);
    const furthest = furthestIn(written);
    // Notes may not be lost for it, nor moved so far that one hears it, nor made one chord that were none.
    const loses = inBar(written).length < inBar(layer).length || merges(written);
    if (weight === null || furthest > FURTHEST || loses) return [];
    return [{ bar: number, plan: mended, grid: name, saved: now - weight, furthest }];
  });
  const [best] = mends.sort((a, b) => b.saved - a.saved || a.furthest - b.furthest);
  return best && best.saved >= WORTH * now ? best : null;
};
