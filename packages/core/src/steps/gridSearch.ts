/** Searches for the cheapest reading of a part's starts, beat by beat, keeping the best few readings (a beam). */
import { type Attack, type Division, type FillModel, type Gains, slotCost, timingCost } from './gridModel.js';

/** A beat with the attacks played in it. */
export interface BeatAttacks {
  readonly start: number;
  readonly length: number;
  readonly divisions: readonly Division[];
  /** Index of its first attack, and how many. */
  readonly first: number;
  readonly count: number;
}

/** Everything the search weighs. */
export interface GridSearch {
  readonly attacks: readonly Attack[];
  readonly beats: readonly BeatAttacks[];
  readonly gains: Gains;
  /** Ticks by which the part is late throughout, at each attack. */
  readonly lean: Float64Array;
  /** How lengths fill their slots; null gives lengths no weight. */
  readonly fill: FillModel | null;
  /** Cost of two attacks on one point, by their distance in ticks. */
  readonly sharing: (gap: number, at: number) => number;
}

/** The reading found. */
export interface Reading {
  /** One target an attack, ticks. */
  readonly targets: Float64Array;
  /** The drift as filtered, ticks, at each attack. */
  readonly drift: Float64Array;
  /** Points of the division chosen for each beat; 0 where nothing starts. */
  readonly divisions: readonly number[];
  /** How much dearer the best other placing of each beat's starts is. */
  readonly margins: Float64Array;
  readonly cost: number;
}

/** A reading of all beats so far. Only the newest beat's placing is held here; the rest is in `before`. */
interface Hypothesis {
  readonly cost: number;
  /** Filtered drift after its last attack, in ticks. */
  readonly drift: number;
  readonly lastTarget: number;
  readonly family: Division['family'];
  readonly before: Hypothesis | null;
  readonly points: number;
  readonly margin: number;
  readonly targets: readonly number[];
  readonly drifts: readonly number[];
}

const WIDTH = 5;
/** Readings dearer than the best by more than this are given up. */
const GIVEN_UP = 7;
const CHANGE_OF_FAMILY = 0.3;
/** Points further than this from where an attack is expected are not tried, the nearest one aside. */
const REACH = 4.5;

/** Runs the search. */
export const searchGrid = (search: GridSearch): Reading => {
  let beam: Hypothesis[] = [
    {
      cost: 0,
      drift: 0,
      lastTarget: Number.NEGATIVE_INFINITY,
      family: 'none',
      before: null,
      points: 0,
      margin: Number.POSITIVE_INFINITY,
      targets: [],
      drifts: [],
    },
  ];
  const counted = search.beats.filter((beat) => beat.count > 0);
  for (const beat of counted) beam = onThrough(search, beat, beam);
  return traced(search, counted, beam[0] as Hypothesis);
};

/** A way on through one beat, not yet written out. */
interface Candidate {
  readonly from: Hypothesis;
  readonly division: Division;
  readonly cell: Cell;
  readonly cost: number;
}

/** The best readings after one more beat. */
const onThrough = (search: GridSearch, beat: BeatAttacks, beam: readonly Hypothesis[]): Hypothesis[] => {
  const candidates: Candidate[] = [];
  let best = Number.POSITIVE_INFINITY;
  for (const from of beam) best = extend(search, beat, from, candidates, best);
  candidates.sort((a, b) => a.cost - b.cost);
  const kept: Hypothesis[] = [];
  for (const candidate of candidates) {
    if (candidate.cost > best + GIVEN_UP || kept.length >= WIDTH) break;
    const { cell, division, from } = candidate;
    const family = division.family === 'none' ? from.family : division.family;
    if (kept.some((k) => k.lastTarget === cell.target && k.family === family)) continue;
    kept.push(writtenOut(candidate, family, marginOf(candidate, candidates)));
  }
  return kept;
};

const writtenOut = (
  { from, division, cell, cost }: Candidate,
  family: Division['family'],
  margin: number,
): Hypothesis => {
  const targets: number[] = [];
  const drifts: number[] = [];
  for (let at: Cell | null = cell; at; at = at.before) {
    targets.push(at.target);
    drifts.push(at.drift);
  }
  targets.reverse();
  drifts.reverse();
  const { drift, target } = cell;
  return { cost, drift, lastTarget: target, family, before: from, points: division.points, margin, targets, drifts };
};

/** How much dearer the best placing is that puts some attack elsewhere, after the same beats; candidates are in order of cost. */
const marginOf = (candidate: Candidate, ordered: readonly Candidate[]): number => {
  for (const other of ordered) {
    if (other.from === candidate.from && !samePlaces(other.cell, candidate.cell)) return other.cost - candidate.cost;
  }
  return Number.POSITIVE_INFINITY;
};

const samePlaces = (a: Cell | null, b: Cell | null): boolean => {
  let [one, other] = [a, b];
  while (one && other) {
    if (Math.abs(one.target - other.target) > 1e-6) return false;
    [one, other] = [one.before, other.before];
  }
  return true;
};

/** One placing of an attack while a beat is being read. */
interface Cell {
  readonly point: number;
  readonly target: number;
  readonly cost: number;
  readonly drift: number;
  readonly before: Cell | null;
}

/** Adds the ways on from one reading; answers the cheapest cost so far. */
const extend = (
  search: GridSearch,
  beat: BeatAttacks,
  from: Hypothesis,
  candidates: Candidate[],
  cheapest: number,
): number => {
  let best = cheapest;
  for (const division of beat.divisions) {
    const change =
      from.family !== 'none' && division.family !== 'none' && from.family !== division.family ? CHANGE_OF_FAMILY : 0;
    const price = from.cost + division.price + change;
    if (price > best + GIVEN_UP) continue;
    for (const cell of lastCells(search, beat, division, from, best + GIVEN_UP - price)) {
      const cost = price + cell.cost;
      if (cost > best + GIVEN_UP) continue;
      if (cost < best) best = cost;
      candidates.push({ from, division, cell, cost });
    }
  }
  return best;
};

/** The cheapest placings of a beat's attacks on a division's points, one for each point that the last may stand on;
 * those dearer than `limit` are given up. */
const lastCells = (
  search: GridSearch,
  beat: BeatAttacks,
  division: Division,
  from: Hypothesis,
  limit: number,
): Cell[] => {
  const { attacks, gains, fill, sharing } = search;
  const step = beat.length / division.points;
  let cells: Cell[] | null = null;
  for (let k = 0; k < beat.count; k += 1) {
    const index = beat.first + k;
    const attack = attacks[index] as Attack;
    const earlier = attacks[index - 1];
    const gap = earlier ? attack.onset - earlier.onset : Number.POSITIVE_INFINITY;
    const precision = gains.precision[index] as number;
    const kept = gains.kept[index] as number;
    const gain = gains.gain[index] as number;
    const lean = search.lean[index] as number;
    const next: Cell[] = [];
    const place = (cost: number, drift: number, lastTarget: number, lastPoint: number, before: Cell | null) => {
      const expected = lean + drift * kept;
      const exact = (attack.onset - expected - beat.start) / step;
      const reach = REACH / precision / step;
      const nearest = Math.max(lastPoint, Math.min(division.points, Math.round(exact)));
      const low = Math.max(lastPoint, Math.min(nearest, Math.ceil(exact - reach)));
      const high = Math.min(division.points, Math.max(nearest, Math.floor(exact + reach)));
      for (let point = low; point <= high; point += 1) {
        const target = beat.start + point * step;
        if (target < lastTarget - 1e-6) continue;
        // A roll has been played wherever in it the point lies.
        const wanted = target + expected;
        const off = wanted < attack.onset ? attack.onset - wanted : wanted > attack.last ? attack.last - wanted : 0;
        const distance = off * precision;
        let total = cost + timingCost(distance);
        if (target <= lastTarget + 1e-6) total += sharing(gap, index);
        else if (fill && earlier && lastTarget > 0) total += slotCost(fill, earlier.length, target - lastTarget);
        if (total > limit) continue;
        let rival = -1;
        for (let at = 0; at < next.length; at += 1) if ((next[at] as Cell).point === point) rival = at;
        if (rival >= 0 && (next[rival] as Cell).cost <= total) continue;
        const taken = Math.abs(distance) > 3 ? (off * 3) / Math.abs(distance) : off;
        const cell: Cell = { point, target, cost: total, drift: drift * kept + gain * taken, before };
        if (rival < 0) next.push(cell);
        else next[rival] = cell;
      }
    };
    if (cells === null) place(0, from.drift, from.lastTarget, 0, null);
    else for (const cell of cells) place(cell.cost, cell.drift, cell.target, cell.point, cell);
    if (next.length === 0) return [];
    cells = next;
  }
  return cells ?? [];
};

const traced = (search: GridSearch, counted: readonly BeatAttacks[], best: Hypothesis): Reading => {
  const { attacks, beats } = search;
  const targets = new Float64Array(attacks.length);
  const drift = new Float64Array(attacks.length);
  const divisions: number[] = new Array(beats.length).fill(0);
  const margins = new Float64Array(beats.length).fill(Number.POSITIVE_INFINITY);
  let at: Hypothesis | null = best;
  let index = beats.length - 1;
  for (let turn = counted.length - 1; turn >= 0 && at; turn -= 1) {
    const beat = counted[turn] as BeatAttacks;
    while (beats[index] !== beat) index -= 1;
    divisions[index] = at.points;
    margins[index] = at.margin;
    for (let k = 0; k < beat.count; k += 1) {
      targets[beat.first + k] = at.targets[k] as number;
      drift[beat.first + k] = at.drifts[k] as number;
    }
    at = at.before;
  }
  return { targets, drift, divisions, margins, cost: best.cost };
};
