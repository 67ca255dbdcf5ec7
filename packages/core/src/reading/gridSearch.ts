/** Searches for the cheapest reading of a part's starts, beat by beat, keeping the best few readings (a beam). */
import type { FigureCost, FigureRead } from './figures.js';
import { type Attack, type Division, type FillModel, type Gains, slotCost, timingCost } from './gridModel.js';

/** A beat with the attacks played in it. */
export interface BeatAttacks {
  readonly start: number;
  readonly length: number;
  /** True for a dotted beat. */
  readonly compound: boolean;
  readonly divisions: readonly Division[];
  /** Index of its first attack, and how many. */
  readonly first: number;
  readonly count: number;
  /** How it was read last, where that counts among what is learnt of the part. */
  readonly lastRead: FigureRead | null;
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
  /** What a beat's figure costs; null where nothing is known of the part's own. */
  readonly figures: FigureCost | null;
  /** How much likelier a written place is for what other parts do there; null where none is heard. */
  readonly favour: ((written: number) => number) | null;
}

/** The reading found. */
export interface Reading {
  /** Where each attack was to be played, ticks: beside its written place where pairs are swung. */
  readonly targets: Float64Array;
  /** Where each attack is written, ticks. */
  readonly written: Float64Array;
  /** The drift as filtered, ticks, at each attack. */
  readonly drift: Float64Array;
  /** The division chosen for each beat; null where nothing starts. */
  readonly divisions: readonly (Division | null)[];
  /** How much dearer the best other placing of each beat's starts is. */
  readonly margins: Float64Array;
  /** That placing: a target for each attack of the beat; null where there is none. */
  readonly others: readonly (readonly number[] | null)[];
  readonly cost: number;
}

/** A reading of all beats so far. Only the newest beat's placing is held here; the rest is in `before`. */
interface Hypothesis {
  readonly cost: number;
  readonly family: Division['family'];
  readonly before: Hypothesis | null;
  readonly division: Division | null;
  readonly margin: number;
  /** The last attack of the best other placing of the newest beat. */
  readonly other: Cell | null;
  /** Where the newest beat's last attack stands. */
  readonly cell: Cell;
}

/** Readings kept at each beat: the search costs in proportion; judged by all rows of docs/accuracy.md. */
const WIDTH = 5;
/** Readings dearer than the best by more than this are given up. */
const GIVEN_UP = 7;
/** Price of going from twos to threes or back; judged by the mixed lines. */
const CHANGE_OF_FAMILY = 0.3;
/** Price of going from swung pairs to even ones or back: a passage is one or the other. */
const CHANGE_OF_SWING = 1.5;
/** A five or seven is not looked for among fewer starts. */
const FEWEST_IN_FIVE = 2;
/** Points further than this from where an attack is expected are not tried, the nearest one aside. */
const REACH = 4.5;

/** Runs the search. */
export const searchGrid = (search: GridSearch): Reading => {
  let beam: Hypothesis[] = [
    {
      cost: 0,
      family: 'none',
      before: null,
      division: null,
      margin: Number.POSITIVE_INFINITY,
      other: null,
      cell: { point: 0, target: Number.NEGATIVE_INFINITY, written: 0, cost: 0, drift: 0, before: null, other: null },
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
  const kept: Hypothesis[] = [];
  for (const candidate of candidates) {
    if (candidate.cost > best + GIVEN_UP || kept.length >= WIDTH) break;
    const { cell, division, from } = candidate;
    const family = division.family === 'none' ? from.family : division.family;
    if (holds(kept, cell, family)) continue;
    const second = secondTo(candidate, candidates);
    const margin = second ? second.cost - candidate.cost : Number.POSITIVE_INFINITY;
    const other = second?.cell ?? null;
    kept.push({ cost: candidate.cost, family, before: from, division, margin, other, cell });
  }
  return kept;
};

/** True where one that is kept already stands at the same place in the same family. */
const holds = (kept: readonly Hypothesis[], { target }: Cell, family: Division['family']): boolean => {
  for (const known of kept) if (known.cell.target === target && known.family === family) return true;
  return false;
};

/** Adds a candidate in order of cost; they are few, and a general sort would cost more than the search. */
const insert = (candidates: Candidate[], candidate: Candidate): void => {
  let at = candidates.length;
  candidates.push(candidate);
  for (; at > 0 && (candidates[at - 1] as Candidate).cost > candidate.cost; at -= 1) {
    candidates[at] = candidates[at - 1] as Candidate;
  }
  candidates[at] = candidate;
};

/** The best placing that puts some attack elsewhere, after the same beats; candidates are in order of cost. */
const secondTo = (candidate: Candidate, ordered: readonly Candidate[]): Candidate | undefined => {
  for (const other of ordered)
    if (other.from === candidate.from && !samePlaces(other.cell, candidate.cell)) return other;
  return undefined;
};

const samePlaces = (a: Cell | null, b: Cell | null): boolean => {
  let one = a;
  let other = b;
  while (one && other) {
    if (Math.abs(one.written - other.written) > 1e-6) return false;
    one = one.before;
    other = other.before;
  }
  return true;
};

/** The cheapest placing of an attack on one point of a beat, and of those before it in the beat. */
interface Cell {
  readonly point: number;
  /** Where it is played, and where it is written. */
  readonly target: number;
  readonly written: number;
  cost: number;
  drift: number;
  /** Where the attack before stands. */
  before: Cell | null;
  /** The same attack on another point. */
  readonly other: Cell | null;
}

const changeOfFamily = (from: Division['family'], to: Division['family']): number => {
  if (from === 'none' || to === 'none' || from === to) return 0;
  const evens = (from === 'swung' && to === 'duple') || (from === 'duple' && to === 'swung');
  return evens ? CHANGE_OF_SWING : CHANGE_OF_FAMILY;
};

/** How many of a division's places after the first hold nothing; the first may be the end of the beat before. */
const emptyPlaces = (last: Cell, { points }: Division): number => {
  let empty = points - 1;
  let after = points;
  for (let cell: Cell | null = last; cell; cell = cell.before) {
    if (cell.point > 0 && cell.point < after) {
      empty -= 1;
      after = cell.point;
    }
  }
  return empty;
};

/** Which points of a beat are struck, as bits; the first may be by the last attack of the beat before. */
const struckBy = (beat: BeatAttacks, { points }: Division, last: Cell, before: Cell): number => {
  let struck = Math.abs(before.written - beat.start) < 1e-6 ? 1 : 0;
  for (let cell: Cell | null = last; cell; cell = cell.before) if (cell.point < points) struck |= 1 << cell.point;
  return struck;
};

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
    if (division.family === 'other' && beat.count < FEWEST_IN_FIVE) continue;
    const change = changeOfFamily(from.family, division.family);
    const price = from.cost + division.price + change;
    if (price > best + GIVEN_UP) continue;
    let cell = lastCells(search, beat, division, from, best + GIVEN_UP - price);
    for (; cell; cell = cell.other) {
      const empty = division.empty ? emptyPlaces(cell, division) * division.empty : 0;
      const figure = search.figures
        ? search.figures(division, struckBy(beat, division, cell, from.cell), beat.lastRead)
        : 0;
      const cost = price + cell.cost + empty + figure;
      if (cost > best + GIVEN_UP) continue;
      if (cost < best) best = cost;
      insert(candidates, { from, division, cell, cost });
    }
  }
  return best;
};

/**
 * The cheapest placings of a beat's attacks on a division's points, one for each point that the last may stand on, as a
 * chain; those dearer than `limit` are given up.
 */
const lastCells = (
  search: GridSearch,
  beat: BeatAttacks,
  division: Division,
  from: Hypothesis,
  limit: number,
): Cell | null => {
  let cells = nextCells(search, beat, division, beat.first, from.cell, true, limit);
  for (let k = 1; k < beat.count && cells; k += 1) {
    cells = nextCells(search, beat, division, beat.first + k, cells, false, limit);
  }
  return cells;
};

/**
 * The placings of one attack that follow those of the one before. Where it is the `head` of its beat, that one stands in
 * an earlier beat, and only its first placing counts.
 */
const nextCells = (
  search: GridSearch,
  beat: BeatAttacks,
  division: Division,
  index: number,
  cells: Cell,
  head: boolean,
  limit: number,
): Cell | null => {
  const { gains, lean } = search;
  const step = beat.length / division.points;
  const { at } = division;
  const attack = search.attacks[index] as Attack;
  const precision = gains.precision[index] as number;
  const kept = gains.kept[index] as number;
  const gain = gains.gain[index] as number;
  let next: Cell | null = null;
  for (let cell: Cell | null = cells; cell; cell = head ? null : cell.other) {
    const from = head ? 0 : cell.point;
    const spent = head ? 0 : cell.cost;
    const expected = (lean[index] as number) + cell.drift * kept;
    const exact = (attack.onset - expected - beat.start) / step;
    const reach = REACH / precision / step;
    const nearest = Math.max(from, Math.min(division.points, Math.round(exact)));
    // Points that are not even are few: all are tried.
    const low = at ? from : Math.max(from, Math.min(nearest, Math.ceil(exact - reach)));
    const high = at ? division.points : Math.min(division.points, Math.max(nearest, Math.floor(exact + reach)));
    for (let point = low; point <= high; point += 1) {
      const written = beat.start + point * step;
      const target = at ? beat.start + (at[point] as number) * beat.length : written;
      if (target < cell.target - 1e-6) continue;
      const off = distanceFrom(attack, target + expected);
      const distance = off * precision;
      let cost = spent + timingCost(distance) + costOfWay(search, index, cell.target, target, beat);
      if (search.favour) cost -= search.favour(written);
      if (cost > limit) continue;
      const taken = Math.abs(distance) > 3 ? (off * 3) / Math.abs(distance) : off;
      next = cheaper(next, point, target, written, cost, cell.drift * kept + gain * taken, head ? null : cell);
    }
  }
  return next;
};

/** What the way from the attack before, which stands at `from`, to `target` costs: a point shared, or a slot to fill. */
const costOfWay = (
  { attacks, fill, sharing }: GridSearch,
  index: number,
  from: number,
  target: number,
  beat: BeatAttacks,
): number => {
  const earlier = attacks[index - 1];
  const { onset, cut } = attacks[index] as Attack;
  if (target <= from + 1e-6) return sharing(onset - (earlier?.onset ?? 0), index);
  if (!fill || !earlier || from < 0) return 0;
  const slot = target - from;
  const short = earlier.length < slot * fill.low;
  // A key that comes up in time tells that its note is no longer; one that runs into its repeat tells nothing.
  if (cut && (short || earlier.onset + earlier.length === onset)) return 0;
  const rest = short ? restPrice(fill, earlier.length, from, beat) : 0;
  return slotCost(fill, earlier.length, slot, rest, earlier.last - earlier.onset);
};

/** What a rest costs at most after a note of `length` ticks that stands at `from`: less where it may begin on the beat. */
const restPrice = (fill: FillModel, length: number, from: number, beat: BeatAttacks): number => {
  const part = beat.length / (beat.compound ? 3 : 2);
  const latest = (from + length / fill.low - beat.start) / part;
  return Math.floor(latest + 1e-6) * part >= from + length / fill.high - beat.start - 1e-6 ? fill.rest : fill.oddRest;
};

/** A roll has been played wherever in it the point lies. Ticks. */
const distanceFrom = ({ onset, last }: Attack, wanted: number): number => {
  if (wanted < onset) return onset - wanted;
  return wanted > last ? last - wanted : 0;
};

/** The chain with one more placing; of two on one point the cheaper stays. */
const cheaper = (
  chain: Cell | null,
  point: number,
  target: number,
  written: number,
  cost: number,
  drift: number,
  before: Cell | null,
): Cell => {
  let rival = chain;
  while (rival && rival.point !== point) rival = rival.other;
  if (!rival || !chain) return { point, target, written, cost, drift, before, other: chain };
  if (cost < rival.cost) {
    rival.cost = cost;
    rival.drift = drift;
    rival.before = before;
  }
  return chain;
};

const traced = (search: GridSearch, counted: readonly BeatAttacks[], best: Hypothesis): Reading => {
  const { attacks, beats } = search;
  const targets = new Float64Array(attacks.length);
  const drift = new Float64Array(attacks.length);
  const written = new Float64Array(attacks.length);
  const divisions: (Division | null)[] = new Array(beats.length).fill(null);
  const margins = new Float64Array(beats.length).fill(Number.POSITIVE_INFINITY);
  const others: (readonly number[] | null)[] = new Array(beats.length).fill(null);
  let at: Hypothesis | null = best;
  let index = beats.length - 1;
  for (let turn = counted.length - 1; turn >= 0 && at; turn -= 1) {
    const beat = counted[turn] as BeatAttacks;
    while (beats[index] !== beat) index -= 1;
    divisions[index] = at.division;
    margins[index] = at.margin;
    others[index] = at.other && targetsOf(at.other);
    let attack = beat.first + beat.count - 1;
    for (let cell: Cell | null = at.cell; cell; cell = cell.before) {
      targets[attack] = cell.target;
      written[attack] = cell.written;
      drift[attack] = cell.drift;
      attack -= 1;
    }
    at = at.before;
  }
  return { targets, written, drift, divisions, margins, others, cost: best.cost };
};

/** Where the attacks of a beat are written, up to its last one. */
const targetsOf = (last: Cell): number[] => {
  const targets: number[] = [];
  for (let cell: Cell | null = last; cell; cell = cell.before) targets.push(cell.written);
  return targets.reverse();
};
