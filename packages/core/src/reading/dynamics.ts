/**
 * Dynamics in a take: levels that are held, and swells between them. The loudness of a part, beat by beat, is cut into
 * stretches that are level or rise or fall steadily: the cheapest cut of all, each stretch having its price (optimal
 * partitioning: Jackson and others, "An algorithm for optimal partitioning of data on an interval", IEEE Signal Processing
 * Letters 12:2, 2005). Levels get their names by the part's own range.
 */
import type { Dynamic } from '../model/noteSigns.js';
import { median } from '../model/statistics.js';
import type { CountedBeat } from '../time/meterMap.js';
import { createRecall } from './recall.js';

/** What begins together, as loud as its notes are on average. Ticks. */
export interface LoudAttack {
  readonly onset: number;
  readonly velocity: number;
}

/** A stretch of one level, or of a steady swell. */
export interface LevelStretch {
  /** Index of its first attack, and of the one after its last. */
  readonly first: number;
  readonly end: number;
  /** Loudness at its first and its last attack. */
  readonly from: number;
  readonly to: number;
  readonly swells: boolean;
}

/** How a part is loud and soft. */
export interface Loudness {
  readonly stretches: readonly LevelStretch[];
  /** What each stretch is called; that of a swell is its end's. */
  readonly names: readonly Dynamic[];
  /** What each begins with, where that is plainly another level than the one before it ended with; null elsewhere. */
  readonly begins: readonly (Dynamic | null)[];
  /** How loud each attack was to be. */
  readonly meant: Float64Array;
  /** Standard deviation of single attacks. */
  readonly spread: number;
}

/** The usual loudness of each level (common practice: evenly apart over what keys are played at). */
export const LEVELS: readonly (readonly [Dynamic, number])[] = [
  ['ppp', 22],
  ['pp', 36],
  ['p', 50],
  ['mp', 63],
  ['mf', 76],
  ['f', 90],
  ['ff', 105],
  ['fff', 119],
];

/** What a stretch costs (natural logarithm of odds), and a swelling one more; judged by the made performances. */
const STRETCH = 8.8;
const SWELL = 2;
/** Cheaper by so much where a bar begins, and after a silence of a beat. */
const AT_BAR = 2;
const AFTER_REST = 1;
/** …and where a phrase would begin: every so many bars (common practice; so much, as three changes in five stand there). */
const AT_PHRASE = 1.5;
const PHRASE_BARS = 4;
/** A level that is held over fewer beats with notes is no phrase: it costs so much more for each that it lacks. */
const PHRASE = 8;
const EACH_BEAT_SHORT = 0.5;
/** No stretch is looked at that is longer than so many beats with notes. */
const LONGEST = 96;
/** A swell goes so far at least (steps of velocity), over at least and at most so many beats with notes. */
const LEAST_SWELL = 14;
const SHORTEST_SWELL = 3;
const LONGEST_SWELL = 16;
/** No hand is steadier than this. */
const LEAST_SPREAD = 3.5;
/** Louder or softer than its neighbours by so many deviations, a note says nothing of the level. */
const OUTLYING = 3;
const NEIGHBOURS = 4;
const NEAR_ENOUGH = 0.6;
/** A whole part is louder or softer than usual by at most so much; what that costs against levels that fit. */
const MOST_OFFSET = 14;
const OFFSET_COST = 0.5;
/** Levels so far apart have two names. */
const TWO_NAMES = 9;

/** Sums over the attacks of beats, from the first beat on. */
interface Sums {
  readonly count: Float64Array;
  readonly time: Float64Array;
  readonly times: Float64Array;
  readonly loud: Float64Array;
  readonly louds: Float64Array;
  readonly both: Float64Array;
  /** The first attack of each beat. */
  readonly starts: Float64Array;
}

interface Cell {
  readonly first: number;
  readonly end: number;
  readonly price: number;
  /** True in the bars in which phrases would begin. */
  readonly opensPhrase: boolean;
  /** The first with notes in its bar, and the first after a silence. */
  readonly opensBar: boolean;
  readonly afterRest: boolean;
}

const sameLoudness = (one: readonly LoudAttack[], other: readonly LoudAttack[]): boolean =>
  one.length === other.length &&
  one.every(({ onset, velocity }, index) => {
    const against = other[index] as LoudAttack;
    return onset === against.onset && velocity === against.velocity;
  });

const recalled = createRecall<readonly LoudAttack[], Loudness>({
  same: sameLoudness,
  sizeOf: (attacks) => attacks.length,
});

/**
 * Cuts a part into stretches; attacks rise. O(n). What was found of the same attacks in the same beats is found again at
 * once.
 */
export const loudnessOf = (attacks: readonly LoudAttack[], beats: readonly CountedBeat[]): Loudness =>
  recalled(beats, attacks, () => stretchesOf(attacks, beats));

const stretchesOf = (attacks: readonly LoudAttack[], beats: readonly CountedBeat[]): Loudness => {
  const spread = spreadOf(attacks);
  const smooth = withoutOutliers(attacks, spread);
  const cells = cellsOf(attacks, beats);
  const sums = sumsOf(attacks, smooth, cells);
  const cut = meeting(cheapestCut(cells, sums, spread), cells, sums, spread);
  const stretches = joined(fromBarLines(cut, cells), attacks, cells, smooth);
  const meant = new Float64Array(attacks.length);
  for (const { first, end, from, to } of stretches) {
    const [start, last] = [attacks[first]?.onset ?? 0, attacks[end - 1]?.onset ?? 0];
    for (let index = first; index < end; index += 1) {
      const share = last > start ? ((attacks[index] as LoudAttack).onset - start) / (last - start) : 0;
      meant[index] = from + (to - from) * share;
    }
  }
  return { stretches, ...namesOf(stretches), meant, spread };
};

/** So many neighbours tell how they differ. */
const ENOUGH_STEPS = 2000;

/** From how neighbours differ (the median of it), so that levels do not count. */
const spreadOf = (attacks: readonly LoudAttack[]): number => {
  const stride = Math.max(1, Math.floor(attacks.length / ENOUGH_STEPS));
  const steps: number[] = [];
  for (let index = 1; index < attacks.length; index += stride)
    steps.push(Math.abs((attacks[index] as LoudAttack).velocity - (attacks[index - 1] as LoudAttack).velocity));
  return Math.max(LEAST_SPREAD, ((median(steps) ?? 0) * 1.4826) / Math.SQRT2);
};

/** Loudness with accents and stumbles brought to what is usual about them. */
const withoutOutliers = (attacks: readonly LoudAttack[], spread: number): Float64Array => {
  const smooth = new Float64Array(attacks.length);
  for (let index = 0; index < attacks.length; index += 1) smooth[index] = (attacks[index] as LoudAttack).velocity;
  const far = OUTLYING * spread;
  let sum = 0;
  for (let index = 0; index < Math.min(NEIGHBOURS, attacks.length); index += 1)
    sum += (attacks[index] as LoudAttack).velocity;
  for (let index = 0; index < attacks.length; index += 1) {
    sum += attacks[index + NEIGHBOURS]?.velocity ?? 0;
    sum -= attacks[index - NEIGHBOURS - 1]?.velocity ?? 0;
    const count = Math.min(attacks.length, index + NEIGHBOURS + 1) - Math.max(0, index - NEIGHBOURS);
    const { velocity } = attacks[index] as LoudAttack;
    // Most are near the mean, and so no outliers: a median of each would cost more than all the rest.
    if (Math.abs(velocity - sum / count) <= far * NEAR_ENOUGH) continue;
    const about = attacks.slice(Math.max(0, index - NEIGHBOURS), index + NEIGHBOURS + 1);
    const usual = median(about.map((attack) => attack.velocity)) ?? velocity;
    smooth[index] = Math.max(usual - far, Math.min(usual + far, velocity));
  }
  return smooth;
};

/** Beats in which something begins. */
const cellsOf = (attacks: readonly LoudAttack[], beats: readonly CountedBeat[]): readonly Cell[] => {
  const cells: Cell[] = [];
  let next = 0;
  let silent = 0;
  let barSaid = false;
  let bar = -1;
  for (const { start, length, number } of beats) {
    if (number === 1) {
      barSaid = false;
      bar += 1;
    }
    const first = next;
    while (next < attacks.length && (attacks[next] as LoudAttack).onset < start + length) next += 1;
    if (next === first) {
      silent += 1;
      continue;
    }
    const opensPhrase = !barSaid && bar % PHRASE_BARS === 0;
    const price = STRETCH - (barSaid ? 0 : AT_BAR) - (opensPhrase ? AT_PHRASE : 0) - (silent > 0 ? AFTER_REST : 0);
    cells.push({ first, end: next, price, opensPhrase, opensBar: !barSaid, afterRest: silent > 0 });
    barSaid = true;
    silent = 0;
  }
  if (next < attacks.length)
    cells.push({
      first: next,
      end: attacks.length,
      price: STRETCH,
      opensPhrase: false,
      opensBar: false,
      afterRest: false,
    });
  return cells;
};

const sumsOf = (attacks: readonly LoudAttack[], smooth: Float64Array, cells: readonly Cell[]): Sums => {
  const of = () => new Float64Array(cells.length + 1);
  const starts = new Float64Array(cells.length);
  // Named one by one: with a spread, its shape is forgotten between two runs, and what was compiled for it with it.
  const sums: Sums = { count: of(), time: of(), times: of(), loud: of(), louds: of(), both: of(), starts };
  const unit = Math.max(1, (attacks[attacks.length - 1]?.onset ?? 1) / Math.max(1, cells.length));
  cells.forEach(({ first, end }, cell) => {
    starts[cell] = (attacks[first] as LoudAttack).onset / unit;
    let [time, times, loud, louds, both] = [0, 0, 0, 0, 0];
    for (let index = first; index < end; index += 1) {
      const at = (attacks[index] as LoudAttack).onset / unit;
      const own = smooth[index] as number;
      time += at;
      times += at * at;
      loud += own;
      louds += own * own;
      both += at * own;
    }
    const on = (list: Float64Array, value: number) => {
      list[cell + 1] = (list[cell] as number) + value;
    };
    on(sums.count, end - first);
    on(sums.time, time);
    on(sums.times, times);
    on(sums.loud, loud);
    on(sums.louds, louds);
    on(sums.both, both);
  });
  return sums;
};

interface Piece {
  readonly from: number;
  readonly to: number;
  readonly swells: boolean;
}

/** Where to cut: for each beat the cheapest way there, over all beats at which its stretch may have begun. */
const cheapestCut = (cells: readonly Cell[], sums: Sums, spread: number): readonly Piece[] => {
  const best = new Float64Array(cells.length + 1);
  const begun = new Int32Array(cells.length + 1);
  const swelled = new Uint8Array(cells.length + 1);
  const scale = 1 / (2 * spread * spread);
  /** The cheapest way to each beat, and a stretch that begins there. */
  const opened = new Float64Array(cells.length + 1);
  const { count, loud, louds } = sums;
  for (let to = 1; to <= cells.length; to += 1) {
    opened[to - 1] = (best[to - 1] as number) + (cells[to - 1] as Cell).price;
    let least = Number.POSITIVE_INFINITY;
    const allLoud = loud[to] as number;
    const allLouds = louds[to] as number;
    const allCount = count[to] as number;
    let from = Math.max(0, to - LONGEST);
    // Most are far too dear for a level, which shows without a division; they are too long for a swell.
    for (; from < to - LONGEST_SWELL; from += 1) {
      const before = opened[from] as number;
      const sum = allLoud - (loud[from] as number);
      const attacks = allCount - (count[from] as number);
      const squaresOfAll = (allLouds - (louds[from] as number)) * attacks - sum * sum;
      if (squaresOfAll * scale >= (least - before) * attacks) continue;
      least = before + Math.max(0, squaresOfAll / attacks) * scale;
      begun[to] = from;
      swelled[to] = 0;
    }
    for (; from < to; from += 1) {
      const before = opened[from] as number;
      if (before >= least) continue;
      const sum = allLoud - (loud[from] as number);
      const squares = allLouds - (louds[from] as number) - (sum * sum) / (allCount - (count[from] as number));
      const lasts = to - from;
      let level = before + Math.max(0, squares) * scale;
      if (lasts < PHRASE) level += (PHRASE - lasts) * EACH_BEAT_SHORT;
      if (level < least) {
        least = level;
        begun[to] = from;
        swelled[to] = 0;
      }
      if (lasts < SHORTEST_SWELL || before + SWELL >= least) continue;
      const swell = before + SWELL + aboutSwell(sumsOver(sums, from, to)) * scale;
      if (swell >= least) continue;
      least = swell;
      begun[to] = from;
      swelled[to] = 1;
    }
    best[to] = least;
  }
  const pieces: Piece[] = [];
  for (let to = cells.length; to > 0; to = begun[to] as number)
    pieces.push({ from: begun[to] as number, to, swells: swelled[to] === 1 });
  return pieces.reverse();
};

/** Between two levels it is looked so many beats with notes back and on for where the one goes over into the other. */
const [LOOK_BACK, LOOK_ON] = [12, 10];
/** A level keeps so many of them at least. */
const LEFT_OF_LEVEL = 2;
/** A swell between two levels that are known may be as short as this. */
const SHORTEST_WAY = 2;
/** What it costs (natural logarithm of odds) that a swell leads from one level to the other… */
const LEADS = 5;
/** …what one costs that does not… */
const OWN_SWELL = 13;
/** …and that it begins, or ends, elsewhere than a bar does. */
const [BEGINS_OFF, ENDS_OFF] = [0.7, 4];

/**
 * Where one level goes over into the next, at once or by a swell that begins with the one and ends with the other: a cut
 * by itself does not know that they meet.
 */
const meeting = (pieces: readonly Piece[], cells: readonly Cell[], sums: Sums, spread: number): readonly Piece[] => {
  const result: Piece[] = [];
  for (let index = 0; index < pieces.length; index += 1) {
    const piece = pieces[index] as Piece;
    const before = result[result.length - 1];
    const after = piece.swells ? pieces[index + 1] : piece;
    if (!before || before.swells || !after || after.swells) {
      result.push(piece);
      continue;
    }
    const [leaves, arrives] = wayOver(before.from, piece.from, after.from, after.to, cells, sums, spread);
    result[result.length - 1] = { ...before, to: leaves };
    if (arrives > leaves) result.push({ from: leaves, to: arrives, swells: true });
    result.push({ ...after, from: arrives });
    if (piece.swells) index += 1;
  }
  return result;
};

/** The sums over the beats from one up to another. */
const sumsOver = ({ count, time, times, loud, louds, both }: Sums, from: number, to: number) => ({
  count: Math.max(1, over(count, from, to)),
  time: over(time, from, to),
  times: over(times, from, to),
  loud: over(loud, from, to),
  louds: over(louds, from, to),
  both: over(both, from, to),
});
const over = (list: Float64Array, from: number, to: number): number => (list[to] as number) - (list[from] as number);
type SumsOver = ReturnType<typeof sumsOver>;

const meanOf = ({ loud, count }: SumsOver): number => loud / count;

/** Squares about a level of their own. */
const aboutLevel = ({ louds, loud, count }: SumsOver): number => louds - (loud * loud) / count;

/** Squares about a steady swell of their own. */
const aboutSwell = (own: SumsOver): number => {
  const wide = own.times - (own.time * own.time) / own.count;
  const along = own.both - (own.time * own.loud) / own.count;
  return Math.max(0, aboutLevel(own) - (along * along) / Math.max(1e-9, wide));
};

/** Squares about the line that is so loud at time 0 and rises by so much. */
const aboutLine = ({ count, time, times, loud, louds, both }: SumsOver, base: number, slope: number): number =>
  Math.max(
    0,
    louds - 2 * base * loud - 2 * slope * both + base * base * count + 2 * base * slope * time + slope * slope * times,
  );

/** The beats at which one level is left and the other is reached: the same where it is at once. */
const wayOver = (
  start: number,
  left: number,
  reached: number,
  end: number,
  cells: readonly Cell[],
  sums: Sums,
  spread: number,
): readonly [leaves: number, arrives: number] => {
  const scale = 1 / (2 * spread * spread);
  const low = Math.max(start + LEFT_OF_LEVEL, left - LOOK_BACK);
  const high = Math.min(end - LEFT_OF_LEVEL, reached + LOOK_ON);
  const off = (cell: number) => !cells[cell]?.opensBar;
  const ending = (cell: number) => (off(cell) ? ENDS_OFF : 0) - (cells[cell]?.opensPhrase ? AT_PHRASE : 0);
  const beginning = (cell: number) => (off(cell) ? BEGINS_OFF : 0);
  const squaresOf = (from: number, to: number) => aboutLevel(sumsOver(sums, from, to));
  let best: readonly [number, number] = [left, reached];
  // A swell that was cut by itself stays where it says more than one that only leads over.
  let least = Number.POSITIVE_INFINITY;
  if (reached > left) {
    const squares = squaresOf(start, left) + aboutSwell(sumsOver(sums, left, reached)) + squaresOf(reached, end);
    least = squares * scale + OWN_SWELL + ending(reached) + beginning(left);
  }
  for (let leaves = low; leaves <= high; leaves += 1) {
    const first = sumsOver(sums, start, leaves);
    for (let arrives = leaves; arrives <= Math.min(high, leaves + LONGEST_SWELL); arrives += 1) {
      if (arrives > leaves && arrives - leaves < SHORTEST_WAY) continue;
      const second = sumsOver(sums, arrives, end);
      let cost = (aboutLevel(first) + aboutLevel(second)) * scale + ending(arrives);
      if (arrives > leaves) {
        const goes = meanOf(second) - meanOf(first);
        if (Math.abs(goes) < LEAST_SWELL) continue;
        const [from, to] = [sums.starts[leaves] as number, sums.starts[arrives] as number];
        const slope = goes / Math.max(1e-9, to - from);
        const squares = aboutLine(sumsOver(sums, leaves, arrives), meanOf(first) - slope * from, slope);
        cost += squares * scale + LEADS + beginning(leaves);
      }
      if (cost >= least) continue;
      least = cost;
      best = [leaves, arrives];
    }
  }
  return best;
};

/** A stretch that begins so many beats before a bar line, in the middle of a phrase, begins with the bar; after a swell more. */
const SHORTLY_BEFORE = 1;
const BEFORE_AFTER_SWELL = 2;

const fromBarLines = (pieces: readonly Piece[], cells: readonly Cell[]): readonly Piece[] => {
  const starts = pieces.map(({ from, to, swells }, index) => {
    const reach = pieces[index - 1]?.swells && !swells ? BEFORE_AFTER_SWELL : SHORTLY_BEFORE;
    if (from === 0 || cells[from]?.afterRest || cells[from]?.opensBar) return from;
    for (let at = from + 1; at <= from + reach && at < to - reach; at += 1) if (cells[at]?.opensBar) return at;
    return from;
  });
  return pieces.map((piece, index) => ({ ...piece, from: starts[index] as number, to: starts[index + 1] ?? piece.to }));
};

/** Least squares line through the loudness of some attacks: its values at both ends. */
const lineThrough = (attacks: readonly LoudAttack[], smooth: Float64Array, first: number, end: number) => {
  let [count, time, times, loud, both] = [0, 0, 0, 0, 0];
  const start = (attacks[first] as LoudAttack).onset;
  for (let index = first; index < end; index += 1) {
    const t = (attacks[index] as LoudAttack).onset - start;
    count += 1;
    time += t;
    times += t * t;
    loud += smooth[index] as number;
    both += t * (smooth[index] as number);
  }
  const wide = times - (time * time) / count;
  const slope = wide > 0 ? (both - (time * loud) / count) / wide : 0;
  const at = (t: number) => loud / count + slope * (t - time / count);
  return { from: at(0), to: at((attacks[end - 1] as LoudAttack).onset - start), mean: loud / count };
};

/** Stretches of attacks; a swell that goes nowhere is a level. */
const joined = (
  pieces: readonly Piece[],
  attacks: readonly LoudAttack[],
  cells: readonly Cell[],
  smooth: Float64Array,
): readonly LevelStretch[] =>
  pieces.map(({ from, to, swells }) => {
    const [first, end] = [(cells[from] as Cell).first, (cells[to - 1] as Cell).end];
    const line = lineThrough(attacks, smooth, first, end);
    return swells && Math.abs(line.to - line.from) >= LEAST_SWELL
      ? { first, end, from: line.from, to: line.to, swells: true }
      : { first, end, from: line.mean, to: line.mean, swells: false };
  });

const nearestLevel = (velocity: number): number => {
  let best = 0;
  LEVELS.forEach(([, usual], level) => {
    if (Math.abs(usual - velocity) < Math.abs((LEVELS[best]?.[1] ?? 0) - velocity)) best = level;
  });
  return best;
};

/** How much louder than usual the whole part is played: what brings its held levels nearest to those that have names. */
const offsetOf = (stretches: readonly LevelStretch[]): number => {
  const held = stretches.filter(({ swells }) => !swells);
  const weights = held.map(({ first, end }) => end - first);
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  let best = { offset: 0, cost: Number.POSITIVE_INFINITY };
  for (let offset = -MOST_OFFSET; offset <= MOST_OFFSET; offset += 1) {
    let cost = total * OFFSET_COST * Math.abs(offset);
    held.forEach(({ from }, index) => {
      const off = from - offset - (LEVELS[nearestLevel(from - offset)]?.[1] ?? 0);
      cost += (weights[index] as number) * off * off;
    });
    if (cost < best.cost) best = { offset, cost };
  }
  return best.offset;
};

const namesOf = (stretches: readonly LevelStretch[]): Pick<Loudness, 'names' | 'begins'> => {
  const offset = offsetOf(stretches);
  let before: { readonly level: number; readonly velocity: number } | undefined;
  const names = stretches.map(({ to }) => {
    let level = nearestLevel(to - offset);
    // Two levels that are plainly apart are not called the same.
    if (before && level === before.level && Math.abs(to - before.velocity) >= TWO_NAMES)
      level = Math.max(0, Math.min(LEVELS.length - 1, level + Math.sign(to - before.velocity)));
    before = { level, velocity: to };
    return nameOf(level);
  });
  const begins = stretches.map(({ from }, index) => {
    const last = stretches[index - 1]?.to;
    return last !== undefined && Math.abs(from - last) < TWO_NAMES ? null : nameOf(nearestLevel(from - offset));
  });
  return { names, begins };
};

const nameOf = (level: number): Dynamic => (LEVELS[level] as readonly [Dynamic, number])[0];
