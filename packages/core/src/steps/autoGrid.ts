/**
 * Auto grid: decides the division of each beat from the starts in it. Dynamic programming over beats: each start costs its
 * squared distance from a point of the division in units of the timing spread (a Gaussian timing model, as in Cemgil,
 * Desain and Kappen, "Rhythm quantization for transcription", Computer Music Journal 24:2, 2000), each division has a
 * price, two starts may not share a point, and changing between duple and triple costs.
 */
import { beatsOfBars } from '../time/meterMap.js';
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

/**
 * From this many spreads on the cost grows evenly (Huber's loss, 1964): one early entry or stumble is no reason for a
 * thirty-second.
 */
const OUTLYING = 2;
const CHANGE_OF_FAMILY = 1.2;
const SHARED_POINT = 12;
const FIRST_SPREAD = 22;
const LEAST_SPREAD = 8;
const MOST_SPREAD = 45;

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
  const exact = alreadyOnGrid(onsets, context);
  if (exact) return { targets: onsets, beats: exact, leanMilliseconds: 0, spreadMilliseconds: 0 };
  let lean = 0;
  let spread = FIRST_SPREAD;
  let result = placeOnGrid(onsets, context, lean, spread);
  ({ lean, spread } = leanAndSpread(residualsOf(onsets, result.targets, context)));
  result = placeOnGrid(onsets, context, lean, spread);
  return { ...result, leanMilliseconds: lean, spreadMilliseconds: spread };
};

/**
 * The grid of a part in which every start lies exactly on a division of its beat (drawn, or quantized before): there is
 * nothing to estimate, and what is fine there is meant. Null for any other part.
 */
const alreadyOnGrid = (onsets: readonly number[], context: StepContext): GriddedBeat[] | null => {
  const gridded: GriddedBeat[] = [];
  for (const beat of beatsWithStarts(onsets, context, 1)) {
    const offsets = onsets.slice(beat.first, beat.first + beat.count).map((onset) => onset - beat.start);
    const fits = beat.divisions.find(({ points }) =>
      offsets.every((offset) => {
        const place = (offset * points) / beat.length;
        return Math.abs(place - Math.round(place)) * beat.length < points * 0.5;
      }),
    );
    if (!fits) return null;
    gridded.push({ start: beat.start, length: beat.length, division: fits.points, margin: Number.POSITIVE_INFINITY });
  }
  return gridded;
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
    const chosen = path[index] as Choice;
    for (const place of placesOf(beats[index] as BeatStarts, moved, chosen)) {
      targets.push(beat.start + (place * beat.length) / chosen.division.points);
    }
    return {
      start: beat.start,
      length: beat.length,
      division: chosen.division.points,
      margin: margins[index] as number,
    };
  });
  return { targets, beats: gridded };
};

const beatsWithStarts = (onsets: readonly number[], context: StepContext, spread: number): BeatStarts[] => {
  const result: BeatStarts[] = [];
  let next = 0;
  for (const beat of beatsOfBars(context.bars, context.ppq)) {
    const first = next;
    while (next < onsets.length && (onsets[next] as number) < beat.start + beat.length) next += 1;
    result.push({
      start: beat.start,
      length: beat.length,
      divisions: beat.compound ? COMPOUND_BEAT : SIMPLE_BEAT,
      first,
      count: next - first,
      spread: next > first ? spread * context.tempoMap.ticksPerMillisecond(beat.start) : 1,
    });
  }
  return result;
};

/** Most points a division has, its end among them, and most starts that are placed point by point in one beat. */
const MOST_POINTS = 13;
// Filled anew for each reading: allocating here would cost more than the arithmetic.
let costs = new Float64Array(MOST_POINTS);
let nextCosts = new Float64Array(MOST_POINTS);

/**
 * The cost of the cheapest placing of a beat's starts on points 0…n of a division, rising strictly unless there are more
 * starts than points; point n is the next beat's first. `firstPoint` is 1 where the beat before used this beat's start;
 * `endUsed` asks for the last start to stand on point n. Infinite where that cannot be. `origins`, where given, receives
 * for each start and point the point of the start before it.
 */
const readingCost = (
  beat: BeatStarts,
  onsets: readonly number[],
  { points, price }: Division,
  firstPoint: 0 | 1,
  endUsed: boolean,
  origins?: Int16Array[],
): number => {
  const { count } = beat;
  if (count === 0) return endUsed ? Number.POSITIVE_INFINITY : price;
  const lastPoint = endUsed ? points : points - 1;
  if (lastPoint < firstPoint) return Number.POSITIVE_INFINITY;
  const width = lastPoint - firstPoint + 1;
  const step = beat.length / points / beat.spread;
  for (let k = 0; k < count; k += 1) {
    const offset = ((onsets[beat.first + k] as number) - beat.start) / beat.spread;
    const origin = origins ? new Int16Array(width) : undefined;
    let bestBefore = Number.POSITIVE_INFINITY;
    let bestBeforeAt = -1;
    for (let p = 0; p < width; p += 1) {
      const distance = Math.abs(offset - (p + firstPoint) * step);
      const own = distance <= OUTLYING ? (distance * distance) / 2 : OUTLYING * (distance - OUTLYING / 2);
      const here = costs[p] as number;
      if (k === 0) nextCosts[p] = own;
      else {
        const useShared = here + SHARED_POINT < bestBefore;
        nextCosts[p] = own + (useShared ? here + SHARED_POINT : bestBefore);
        if (origin) origin[p] = useShared ? p : bestBeforeAt;
        if (here < bestBefore) {
          bestBefore = here;
          bestBeforeAt = p;
        }
      }
    }
    [costs, nextCosts] = [nextCosts, costs];
    if (origin && origins) origins.push(origin);
  }
  return price + (costs[cheapestPoint(width, endUsed)] as number);
};

const cheapestPoint = (width: number, endUsed: boolean): number => {
  let at = width - 1;
  if (!endUsed) for (let p = 0; p < width; p += 1) if ((costs[p] as number) < (costs[at] as number)) at = p;
  return at;
};

/** The points that the cheapest placing uses, start by start. */
const placesOf = (beat: BeatStarts, onsets: readonly number[], chosen: Choice): number[] => {
  if (beat.count === 0) return [];
  const origins: Int16Array[] = [];
  const lastPoint = chosen.endUsed ? chosen.division.points : chosen.division.points - 1;
  readingCost(beat, onsets, chosen.division, chosen.firstPoint, chosen.endUsed, origins);
  let at = cheapestPoint(lastPoint - chosen.firstPoint + 1, chosen.endUsed);
  const places: number[] = [];
  for (let k = beat.count - 1; k >= 0; k -= 1) {
    places.push(at + chosen.firstPoint);
    at = (origins[k] as Int16Array)[at] as number;
  }
  return places.reverse();
};

/** The way chosen for one beat. */
interface Choice {
  readonly division: Division;
  readonly firstPoint: 0 | 1;
  readonly endUsed: boolean;
}

const FAMILIES: readonly Division['family'][] = ['none', 'duple', 'triple'];

const changeCost = (before: number, after: number): number =>
  before !== 0 && after !== 0 && before !== after ? CHANGE_OF_FAMILY : 0;

/** The last start may be the next beat's first only where it lies late in the beat. */
const mayUseEnd = (beat: BeatStarts, onsets: readonly number[]): boolean =>
  beat.count > 0 && (onsets[beat.first + beat.count - 1] as number) - beat.start > beat.length * 0.5;

/** A state is a division (times two) and whether the beat's end is used (plus one): at most this many. */
const STATES = 12;

/**
 * The cheapest way through all beats. States live in flat arrays, one row of {@link STATES} a beat: a linked object for
 * each would keep a hundred thousand of them alive until the end.
 */
const cheapestPath = (
  beats: readonly BeatStarts[],
  onsets: readonly number[],
): { path: Choice[]; margins: Float64Array } => {
  const rows = beats.length + 1;
  const totals = new Float64Array(rows * STATES).fill(Number.POSITIVE_INFINITY);
  const families = new Uint8Array(rows * STATES);
  const origins = new Int8Array(rows * STATES).fill(-1);
  const margins = new Float64Array(beats.length).fill(Number.POSITIVE_INFINITY);
  totals[0] = 0;
  for (let row = 1; row < rows; row += 1) {
    const beat = beats[row - 1] as BeatStarts;
    const before = (row - 1) * STATES;
    const divisions = beat.count === 0 ? 1 : beat.divisions.length;
    const endings = mayUseEnd(beat, onsets) ? 2 : 1;
    let startTaken = false;
    for (let state = 1; state < STATES; state += 2) startTaken ||= Number.isFinite(totals[before + state]);
    let first = Number.POSITIVE_INFINITY;
    let second = Number.POSITIVE_INFINITY;
    for (let index = 0; index < divisions; index += 1) {
      const candidate = beat.divisions[index] as Division;
      const family = FAMILIES.indexOf(candidate.family);
      for (let ending = 0; ending < endings; ending += 1) {
        const free = readingCost(beat, onsets, candidate, 0, ending === 1);
        const taken = startTaken ? readingCost(beat, onsets, candidate, 1, ending === 1) : free;
        let lowest = Number.POSITIVE_INFINITY;
        let origin = -1;
        for (let state = 0; state < STATES; state += 1) {
          const total = totals[before + state] as number;
          if (total === Number.POSITIVE_INFINITY) continue;
          const sum = total + (state % 2 === 1 ? taken : free) + changeCost(families[before + state] as number, family);
          if (sum < lowest) {
            lowest = sum;
            origin = state;
          }
        }
        const at = row * STATES + index * 2 + ending;
        totals[at] = lowest;
        origins[at] = origin;
        families[at] = family === 0 && origin >= 0 ? (families[before + origin] as number) : family;
        if (lowest < first) {
          second = first;
          first = lowest;
        } else if (lowest < second) second = lowest;
      }
    }
    if (divisions > 1) margins[row - 1] = second - first;
  }
  return { path: walkBack(beats, totals, origins), margins };
};

const walkBack = (beats: readonly BeatStarts[], totals: Float64Array, origins: Int8Array): Choice[] => {
  const last = beats.length * STATES;
  let state = 0;
  for (let other = 1; other < STATES; other += 1) {
    if ((totals[last + other] as number) < (totals[last + state] as number)) state = other;
  }
  const path: Choice[] = new Array(beats.length);
  for (let row = beats.length; row > 0; row -= 1) {
    const origin = origins[row * STATES + state] as number;
    const division = (beats[row - 1] as BeatStarts).divisions[state >> 1] as Division;
    path[row - 1] = { division, firstPoint: origin % 2 === 1 ? 1 : 0, endUsed: state % 2 === 1 };
    state = origin;
  }
  return path;
};
