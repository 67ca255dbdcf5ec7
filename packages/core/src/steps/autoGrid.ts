/**
 * Auto grid: decides the division of each beat from the starts in it. Dynamic programming over beats: each start costs its
 * squared distance from a point of the division in units of the timing spread (a Gaussian timing model, as in Cemgil,
 * Desain and Kappen, "Rhythm quantization for transcription", Computer Music Journal 24:2, 2000), each division has a
 * price, two starts may not share a point, and changing between duple and triple costs.
 */
import { beatsOfBar } from '../time/meterMap.js';
import type { StepContext } from './step.js';

/** A beat and the division chosen for it. */
export interface GriddedBeat {
  readonly start: number;
  readonly length: number;
  readonly division: number;
  /** How much dearer the best other reading of this beat alone is; below 1 it is doubtful. Infinite where nothing starts. */
  readonly margin: number;
}

/** Where each start goes, and why. */
export interface AutoGrid {
  /** One target for each onset, in the same order; ticks of the context's PPQ, not rounded. */
  readonly targets: readonly number[];
  readonly beats: readonly GriddedBeat[];
  /** How late (positive) or early the part is on the whole, in milliseconds. */
  readonly leanMilliseconds: number;
  /** Standard deviation about the grid, in milliseconds. */
  readonly spreadMilliseconds: number;
}

interface Division {
  readonly points: number;
  readonly price: number;
  readonly family: 'none' | 'duple' | 'triple';
}

const division = (points: number, price: number, family: Division['family']): Division => ({ points, price, family });

const SIMPLE_BEAT: readonly Division[] = [
  division(1, 0, 'none'),
  division(2, 0.4, 'duple'),
  division(4, 1.4, 'duple'),
  division(8, 5.5, 'duple'),
  division(3, 2.2, 'triple'),
  division(6, 6, 'triple'),
];
const COMPOUND_BEAT: readonly Division[] = [
  division(1, 0, 'none'),
  division(3, 0.4, 'triple'),
  division(6, 1.6, 'triple'),
  division(12, 6, 'triple'),
  division(2, 5, 'duple'),
  division(4, 6.5, 'duple'),
];

const CHANGE_OF_FAMILY = 1.2;
const SHARED_POINT = 12;
const FIRST_SPREAD = 22;
const LEAST_SPREAD = 8;
const MOST_SPREAD = 45;

/** One way to place the starts of a beat; `startFree` says whether the first point may be used. */
interface Reading {
  readonly cost: number;
  readonly places: readonly number[];
}

interface BeatStarts {
  readonly start: number;
  readonly length: number;
  readonly divisions: readonly Division[];
  readonly first: number;
  readonly count: number;
  readonly spread: number;
}

/** Finds targets for `onsets` (distinct, rising, in ticks). */
export const autoGrid = (onsets: readonly number[], context: StepContext): AutoGrid => {
  let lean = 0;
  let spread = FIRST_SPREAD;
  let result = placeOnGrid(onsets, context, lean, spread);
  for (let pass = 0; pass < 2; pass += 1) {
    const residuals = residualsOf(onsets, result.targets, context);
    ({ lean, spread } = leanAndSpread(residuals));
    result = placeOnGrid(onsets, context, lean, spread);
  }
  return { ...result, leanMilliseconds: lean, spreadMilliseconds: spread };
};

const residualsOf = (onsets: readonly number[], targets: readonly number[], context: StepContext): number[] =>
  onsets.map((onset, i) => (onset - (targets[i] as number)) / context.tempoMap.ticksPerMillisecond(onset));

/** Robust: the median, and the spread from the middle two thirds; few notes are trusted little. */
const leanAndSpread = (residuals: readonly number[]): { lean: number; spread: number } => {
  const count = residuals.length;
  if (count === 0) return { lean: 0, spread: FIRST_SPREAD };
  const sorted = [...residuals].sort((a, b) => a - b);
  const quantile = (q: number) => sorted[Math.min(count - 1, Math.floor(q * count))] as number;
  const trust = count / (count + 8);
  const deviation = (quantile(0.8413) - quantile(0.1587)) / 2;
  const spread = deviation * trust + FIRST_SPREAD * (1 - trust);
  return { lean: quantile(0.5) * trust, spread: Math.min(MOST_SPREAD, Math.max(LEAST_SPREAD, spread)) };
};

const placeOnGrid = (
  onsets: readonly number[],
  context: StepContext,
  lean: number,
  spread: number,
): { targets: number[]; beats: GriddedBeat[] } => {
  const moved = onsets.map((onset) => onset - lean * context.tempoMap.ticksPerMillisecond(onset));
  const beats = beatsWithStarts(moved, context, spread);
  const { path, margins } = cheapestPath(beats, moved);
  const targets: number[] = [];
  const gridded = beats.map((beat, index) => {
    const chosen = path[index] as State;
    for (const place of chosen.reading.places) {
      targets.push(beat.start + (place * beat.length) / chosen.division.points);
    }
    return { start: beat.start, length: beat.length, division: chosen.division.points, margin: margins[index] as number };
  });
  return { targets, beats: gridded };
};

const beatsWithStarts = (onsets: readonly number[], context: StepContext, spread: number): BeatStarts[] => {
  const result: BeatStarts[] = [];
  let next = 0;
  for (const bar of context.bars) {
    for (const beat of beatsOfBar(bar, context.ppq)) {
      const first = next;
      while (next < onsets.length && (onsets[next] as number) < beat.start + beat.length) next += 1;
      result.push({
        start: beat.start,
        length: beat.length,
        divisions: beat.compound ? COMPOUND_BEAT : SIMPLE_BEAT,
        first,
        count: next - first,
        spread: spread * context.tempoMap.ticksPerMillisecond(beat.start),
      });
    }
  }
  return result;
};

/**
 * The cheapest placing of a beat's starts on points 0…n of a division, rising strictly unless there are more starts than
 * points; point n is the next beat's first. `firstPoint` is 1 where the beat before used this beat's start.
 */
const cheapestReading = (
  beat: BeatStarts,
  onsets: readonly number[],
  { points, price }: Division,
  firstPoint: 0 | 1,
  endUsed: boolean,
): Reading | null => {
  const { count } = beat;
  if (count === 0) return endUsed ? null : { cost: price, places: [] };
  const lastPoint = endUsed ? points : points - 1;
  if (lastPoint < firstPoint) return null;
  const width = lastPoint - firstPoint + 1;
  let costs = new Float64Array(width).fill(Number.POSITIVE_INFINITY);
  const from: Int16Array[] = [];
  for (let k = 0; k < count; k += 1) {
    const offset = (onsets[beat.first + k] as number) - beat.start;
    const nextCosts = new Float64Array(width).fill(Number.POSITIVE_INFINITY);
    const origin = new Int16Array(width).fill(-1);
    let bestBefore = Number.POSITIVE_INFINITY;
    let bestBeforeAt = -1;
    for (let p = 0; p < width; p += 1) {
      const distance = (offset - ((p + firstPoint) * beat.length) / points) / beat.spread;
      const own = (distance * distance) / 2;
      if (k === 0) nextCosts[p] = own;
      else {
        const shared = (costs[p] as number) + SHARED_POINT;
        const useShared = shared < bestBefore;
        nextCosts[p] = own + (useShared ? shared : bestBefore);
        origin[p] = useShared ? p : bestBeforeAt;
      }
      if ((costs[p] as number) < bestBefore) {
        bestBefore = costs[p] as number;
        bestBeforeAt = p;
      }
    }
    costs = nextCosts;
    from.push(origin);
  }
  let at = width - 1;
  if (!endUsed) for (let p = 0; p < width; p += 1) if ((costs[p] as number) < (costs[at] as number)) at = p;
  const cost = costs[at] as number;
  if (!Number.isFinite(cost)) return null;
  const places: number[] = [];
  for (let k = count - 1; k >= 0; k -= 1) {
    places.unshift(at + firstPoint);
    at = (from[k] as Int16Array)[at] as number;
  }
  return { cost: cost + price, places };
};

interface State {
  readonly division: Division;
  readonly reading: Reading;
  readonly endUsed: boolean;
  readonly total: number;
  readonly before: State | null;
  /** The last family in force, through undivided beats. */
  readonly family: Division['family'];
}

const changeCost = (before: Division['family'], after: Division['family']): number =>
  before !== 'none' && after !== 'none' && before !== after ? CHANGE_OF_FAMILY : 0;

const cheapestPath = (beats: readonly BeatStarts[], onsets: readonly number[]): { path: State[]; margins: number[] } => {
  let states: State[] = [
    { division: SIMPLE_BEAT[0] as Division, reading: { cost: 0, places: [] }, endUsed: false, total: 0, before: null, family: 'none' },
  ];
  const margins: number[] = [];
  for (const beat of beats) {
    const divisions = beat.count === 0 ? beat.divisions.slice(0, 1) : beat.divisions;
    const next: State[] = [];
    const alone: number[] = [];
    for (const candidate of divisions) {
      for (const endUsed of [false, true]) {
        const readings = [
          cheapestReading(beat, onsets, candidate, 0, endUsed),
          states.some((s) => s.endUsed) ? cheapestReading(beat, onsets, candidate, 1, endUsed) : null,
        ];
        let best: State | null = null;
        for (const before of states) {
          const reading = readings[before.endUsed ? 1 : 0];
          if (!reading) continue;
          const total = before.total + reading.cost + changeCost(before.family, candidate.family);
          if (best && best.total <= total) continue;
          const family = candidate.family === 'none' ? before.family : candidate.family;
          best = { division: candidate, reading, endUsed, total, before, family };
        }
        if (best) {
          next.push(best);
          alone.push(best.total);
        }
      }
    }
    if (next.length === 0) throw new Error('A beat has no reading');
    alone.sort((a, b) => a - b);
    margins.push(alone.length > 1 ? (alone[1] as number) - (alone[0] as number) : Number.POSITIVE_INFINITY);
    states = next;
  }
  let state: State | null = states.reduce((best, s) => (s.total < best.total ? s : best));
  const path: State[] = [];
  while (state?.before) {
    path.push(state);
    state = state.before;
  }
  return { path: path.reverse(), margins };
};
