/**
 * Where strikes stand in the beat, and how long beats last: the tempo is a hidden state beside the score position (Cemgil and
 * Kappen 2003; Raphael 2002). For each strike all places in the beat and all beat lengths are weighed; the best path is kept
 * (Viterbi over a beam).
 */
import type { Search } from './search.js';
import type { Strike } from './strikes.js';

/** A strike at its place: whole beats from the first one, and the part of a beat. */
export interface Placed {
  /** Index of the strike. */
  readonly strike: number;
  /** In beats. */
  readonly position: number;
  /** Length of the beat there, in seconds. */
  readonly beat: number;
}

/** What is known before: how beats divide, and how long they may be. */
export interface BeatsAsked {
  /** True where beats divide in three. */
  readonly compound: boolean;
  /** True where several parts play together. */
  readonly together: boolean;
  /** The likeliest length of a beat, in seconds. */
  readonly likely: number;
}

/** What places cost, in natural logarithms of likelihood. Tuned on seeds below 9000 of `demo/freeKinds.ts`. */
interface PlaceCost {
  readonly at: number;
  readonly cost: number;
  /** Places of one family go together within a beat. */
  readonly family: 'both' | 'twos' | 'threes';
}
const SIMPLE: readonly PlaceCost[] = [
  { at: 0, cost: 0, family: 'both' },
  { at: 1 / 2, cost: 0.7, family: 'twos' },
  { at: 1 / 4, cost: 2.1, family: 'twos' },
  { at: 3 / 4, cost: 1.8, family: 'twos' },
  { at: 1 / 3, cost: 2.2, family: 'threes' },
  { at: 2 / 3, cost: 2.2, family: 'threes' },
  { at: 1 / 8, cost: 6.5, family: 'twos' },
  { at: 3 / 8, cost: 6.5, family: 'twos' },
  { at: 5 / 8, cost: 6.5, family: 'twos' },
  { at: 7 / 8, cost: 6.5, family: 'twos' },
  { at: 1 / 6, cost: 5.5, family: 'threes' },
  { at: 5 / 6, cost: 5.5, family: 'threes' },
];
const COMPOUND: readonly PlaceCost[] = [
  { at: 0, cost: 0, family: 'both' },
  { at: 1 / 3, cost: 0.8, family: 'threes' },
  { at: 2 / 3, cost: 0.6, family: 'threes' },
  { at: 1 / 6, cost: 2.4, family: 'threes' },
  { at: 1 / 2, cost: 2.0, family: 'both' },
  { at: 5 / 6, cost: 2.4, family: 'threes' },
  { at: 1 / 4, cost: 4.5, family: 'twos' },
  { at: 3 / 4, cost: 4.5, family: 'twos' },
];

/** The places that a beat has, with what they cost. */
export const placesOf = (compound: boolean): readonly Pick<PlaceCost, 'at' | 'cost'>[] =>
  compound ? COMPOUND : SIMPLE;

/** Beat lengths that are weighed: from 30 to 216 beats a minute, each so much longer than the one before. */
const [SHORTEST, LONGEST, STEP] = [0.278, 2, 0.02];
const LENGTHS = Float64Array.from(
  { length: Math.ceil(Math.log(LONGEST / SHORTEST) / STEP) },
  (_, index) => SHORTEST * Math.exp(STEP * index),
);
/** The beat changes by at most so many of these steps from one strike to the next. */
const MOST_STEPS = 7;
/** How far a strike is from its place, in seconds (standard deviation), alone; and where many begin together. */
const [SPREAD, LEAST_SPREAD] = [0.022, 0.012];
/** How much a beat differs from the one before, as a logarithm (standard deviation): of a steady player, and of a free one. */
const TEMPO_MOVES = [0.035, 0.065] as const;
/** A beat may be so much shorter or longer than the likely one (as a logarithm: slowing down goes farther than pressing on)… */
const [MUCH_SHORTER, MUCH_LONGER] = [0.2, 0.45];
/** …beyond that it is so far off (standard deviation), and each strike says so with this weight. */
const LIKELY_WIDTH = 0.15;
const LIKELY_WEIGHT = 0.7;
/** Two strikes at one place: they should have been one moment. */
const SAME_PLACE = 3;
/** Twos and threes within one beat: of one part, and of several that play together. */
const [MIXED, MIXED_TOGETHER] = [5, 1.5];
/** In the last seconds of a piece the beat may become longer by so many times as much. */
const [AT_END, SLOWS_AT_END] = [12, 2.4];
/** The file begins elsewhere than on a beat, while the first strike is within so many beats. */
const [OFF_START, LONGEST_START] = [5, 6];
/** A beat on which nothing begins. */
const EMPTY_BEAT = 0.5;
/** A place of the family that the strike before it in the same beat had costs so much of its price. */
const SAME_FAMILY = 0.4;
/** Tempo moves that are farther than this cost in proportion to how far they are, not to its square (standard deviations). */
const FAR_MOVE = 1.5;
/** A strike that stands nowhere, by its weight. */
const SKIPPED = 5;
/** More places than this no beat has. */
const PLACES = 16;
/** Takes of more strikes than this are long: less is followed of them, for they tell more. */
const LONG = 2500;
/** What is so much less likely than the best is not followed (natural logarithm); of a long take. */
const [HOPELESS, HOPELESS_OF_LONG] = [14, 8];
/** States that are followed at each strike; of a long take. */
const [BEAM, BEAM_OF_LONG] = [80, 32];
/** No place is so far off (standard deviations). */
const FARTHEST = 3.6;

interface State {
  readonly place: number;
  readonly length: number;
  readonly beats: number;
  readonly cost: number;
  readonly strike: number;
  readonly before: State | null;
}

/** Where a search stands at one strike: the least cost for each length and place, and from where it came. */
class Reached {
  private readonly costs = new Float64Array(LENGTHS.length * PLACES);
  private readonly beats = new Int32Array(LENGTHS.length * PLACES);
  private readonly before: (State | null)[] = new Array(LENGTHS.length * PLACES).fill(null);
  private readonly touched: number[] = [];
  /** What costs more is not followed: the least cost so far, and what is hopeless beside it. */
  bound = Number.POSITIVE_INFINITY;

  constructor(
    private readonly hopeless: number,
    private readonly most: number,
  ) {
    this.costs.fill(Number.POSITIVE_INFINITY);
  }

  costOf(key: number): number {
    return this.costs[key] as number;
  }

  put(key: number, cost: number, beats: number, before: State): void {
    if (this.costs[key] === Number.POSITIVE_INFINITY) this.touched.push(key);
    this.costs[key] = cost;
    this.beats[key] = beats;
    this.before[key] = before;
    if (cost + this.hopeless < this.bound) this.bound = cost + this.hopeless;
  }

  /** The best of them as states, and all is as at first. */
  taken(strike: number): State[] {
    const states = this.touched
      .filter((key) => this.costOf(key) <= this.bound)
      .sort((a, b) => this.costOf(a) - this.costOf(b))
      .slice(0, this.most)
      .map(
        (key): State => ({
          place: key % PLACES,
          length: Math.floor(key / PLACES),
          beats: this.beats[key] as number,
          cost: this.costOf(key),
          strike,
          before: this.before[key] ?? null,
        }),
      );
    for (const key of this.touched) {
      this.costs[key] = Number.POSITIVE_INFINITY;
      this.before[key] = null;
    }
    this.touched.length = 0;
    this.bound = Number.POSITIVE_INFINITY;
    return states;
  }
}

/** What a search goes by. */
interface Ways {
  readonly places: PlaceTable;
  /** What each length costs in itself. */
  readonly prior: Float64Array;
  /** How much a beat becomes shorter from one to the next, as a logarithm (standard deviation)… */
  readonly moves: number;
  /** …and longer. */
  readonly slows: number;
  /** What twos and threes within one beat cost. */
  readonly mixed: number;
}

/** Places in columns: the innermost loop reads nothing else. */
interface PlaceTable {
  readonly count: number;
  readonly at: Float64Array;
  readonly cost: Float64Array;
  /** 0 for both families. */
  readonly family: Uint8Array;
}
const FAMILIES = ['both', 'twos', 'threes'] as const;
const tableOf = (places: readonly PlaceCost[]): PlaceTable => ({
  count: places.length,
  at: Float64Array.from(places, ({ at }) => at),
  cost: Float64Array.from(places, ({ cost }) => cost),
  family: Uint8Array.from(places, ({ family }) => FAMILIES.indexOf(family)),
});

/** All ways on from one strike, at which all of `states` are, to the next. */
const goOn = (
  reached: Reached,
  states: readonly State[],
  skipped: number,
  strikes: readonly Strike[],
  index: number,
  { places, prior, moves, slows, mixed }: Ways,
): void => {
  const [start] = states;
  if (!start) return;
  const strike = strikes[index] as Strike;
  const earlier = strikes[start.strike] as Strike;
  // What is leant on stands on the beat.
  const lean = Math.max(0.6, Math.min(1.6, strike.weight));
  const gap = strike.at - earlier.at;
  const spread = varianceOf(strike) + varianceOf(earlier);
  const perVariance = 1 / (2 * spread);
  const farthest = FARTHEST * Math.sqrt(spread);
  const { count, at: ats, cost: costs, family: families } = places;
  for (const state of states) {
    const ownAt = ats[state.place] as number;
    const ownFamily = families[state.place] as number;
    const along = gap / (LENGTHS[state.length] as number);
    const freedom = STEP / Math.sqrt(Math.max(0.4, Math.min(4, along)));
    const low = Math.max(0, state.length - MOST_STEPS);
    const high = Math.min(LENGTHS.length - 1, state.length + MOST_STEPS);
    for (let length = low; length <= high; length += 1) {
      const step = length - state.length;
      const moved = huber((step * freedom) / (step > 0 ? slows : moves));
      const base = state.cost + skipped + moved + (prior[length] as number);
      if (base > reached.bound) continue;
      const beat = LENGTHS[length] as number;
      const at = ownAt + gap / beat;
      const far = farthest / beat;
      const perBeat = beat * beat * perVariance;
      for (let place = 0; place < count; place += 1) {
        const toAt = ats[place] as number;
        const beats = Math.floor(at - toAt + 0.5);
        const off = at - toAt - beats;
        if (off > far || off < -far || beats < 0 || (beats === 0 && toAt < ownAt)) continue;
        const key = length * PLACES + place;
        let total = base + off * off * perBeat;
        // Most ways end here: what is left costs no less than nothing.
        if (total > reached.bound || total >= reached.costOf(key)) continue;
        const family = families[place] as number;
        const both = family === 0 || ownFamily === 0;
        const cost = costs[place] as number;
        total += (beats === 0 && !both && family === ownFamily ? cost * SAME_FAMILY : cost) * lean;
        const empty = beats - (toAt === 0 ? 1 : 0);
        if (empty > 0) total += EMPTY_BEAT * empty;
        if (beats === 0 && place === state.place) total += SAME_PLACE;
        if (beats === 0 && !both && family !== ownFamily) total += mixed;
        if (total <= reached.bound && total < reached.costOf(key)) reached.put(key, total, state.beats + beats, state);
      }
    }
  }
};

/** So many strikes are placed from one such word to the next. */
const AT_A_TIME = 8;

/** The places of strikes, in order; those that stand nowhere are left out. Empty for fewer than four. O(strikes). */
export function* placeStrikes(
  strikes: readonly Strike[],
  { compound, together, likely }: BeatsAsked,
): Search<readonly Placed[]> {
  if (strikes.length < 4) return [];
  const places = compound ? COMPOUND : SIMPLE;
  const prior = LENGTHS.map((length) => {
    const off = Math.log(length / likely);
    const beyond = Math.max(0, off - MUCH_LONGER, -off - MUCH_SHORTER);
    return (LIKELY_WEIGHT * (beyond / LIKELY_WIDTH) ** 2) / 2;
  });
  const mixed = together ? MIXED_TOGETHER : MIXED;
  // Whoever plays steadily is likelier to than one who might as well not: so much for each strike (a normal's own height).
  let best: { readonly placed: readonly Placed[]; readonly cost: number } | null = null;
  for (const [index, moves] of TEMPO_MOVES.entries()) {
    const search = pathOf(strikes, places, prior, mixed, moves);
    let step = search.next();
    for (; !step.done; step = search.next()) yield (index + step.value) / TEMPO_MOVES.length;
    const cost = step.value.cost + strikes.length * Math.log(moves);
    if (!best || cost < best.cost) best = { placed: step.value.placed, cost };
  }
  return best?.placed ?? [];
}

/** The likeliest path for a player who moves the beat so much. */
function* pathOf(
  strikes: readonly Strike[],
  places: readonly PlaceCost[],
  prior: Float64Array,
  mixed: number,
  moves: number,
): Search<{ readonly placed: readonly Placed[]; readonly cost: number }> {
  const [first, last] = [strikes[0] as Strike, strikes[strikes.length - 1] as Strike];
  let [states, before]: State[][] = [beginnings(first, places, prior), []];
  const long = strikes.length > LONG;
  const reached = new Reached(long ? HOPELESS_OF_LONG : HOPELESS, long ? BEAM_OF_LONG : BEAM);
  const table = tableOf(places);
  for (let index = 1; index < strikes.length; index += 1) {
    if (index % AT_A_TIME === 0) yield index / strikes.length;
    const slows = moves * ((strikes[index] as Strike).at > last.at - AT_END ? SLOWS_AT_END : 1);
    const ways: Ways = { places: table, prior, moves, slows, mixed };
    goOn(reached, states as State[], 0, strikes, index, ways);
    const skipped = SKIPPED * Math.min(1.5, (strikes[index - 1] as Strike).weight);
    goOn(reached, before as State[], skipped, strikes, index, ways);
    const next = reached.taken(index);
    before = states;
    // Where nothing goes on, as after a long silence, it begins anew from the beat that was.
    states = next.length > 0 ? next : resumed(states as State[], strikes, index);
  }
  const path: Placed[] = [];
  for (let state: State | null = states?.[0] ?? null; state; state = state.before)
    path.push({
      strike: state.strike,
      position: state.beats + (places[state.place] as PlaceCost).at,
      beat: LENGTHS[state.length] as number,
    });
  return { placed: path.reverse(), cost: states?.[0]?.cost ?? Number.POSITIVE_INFINITY };
}

/** Every place and length for the first strike. */
const beginnings = (first: Strike, places: readonly PlaceCost[], prior: Float64Array): State[] =>
  places
    .flatMap(({ at, cost }, place) =>
      Array.from(LENGTHS, (beat, length): State => {
        const before = first.at / beat;
        // A file mostly begins where a beat does.
        const off = before < LONGEST_START ? Math.abs(at - before - Math.round(at - before)) * beat : beat;
        const start = Math.min(OFF_START, (off / SPREAD) ** 2 / 4);
        const likeliest = (prior[length] as number) * 2;
        return { place, length, beats: 0, cost: cost * 2 + start + likeliest, strike: 0, before: null };
      }),
    )
    .sort((a, b) => a.cost - b.cost)
    .slice(0, 4 * BEAM);

const varianceOf = ({ count }: Strike): number => Math.max(LEAST_SPREAD, SPREAD / Math.sqrt(count)) ** 2;

/** Half the square, and a straight line farther out (Huber 1964). */
export const huber = (z: number): number => {
  const far = Math.abs(z);
  return far <= FAR_MOVE ? far ** 2 / 2 : FAR_MOVE * (far - FAR_MOVE / 2);
};

const resumed = (states: readonly State[], strikes: readonly Strike[], index: number): State[] =>
  states.slice(0, 12).map((state) => {
    const gap = (strikes[index] as Strike).at - (strikes[state.strike] as Strike).at;
    const beats = Math.max(1, Math.round(gap / (LENGTHS[state.length] as number)));
    return {
      place: 0,
      length: state.length,
      beats: state.beats + beats,
      cost: state.cost + 8,
      strike: index,
      before: state,
    };
  });
