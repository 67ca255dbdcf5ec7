/**
 * Swing: pairs of notes played long and short, as one warp of the beat. It is found from where the second of each pair is
 * struck, and written as if the pairs were even. Between 56 and 72 % (measured swing lies there: Friberg and Sundström,
 * "Swing ratios and ensemble timing in jazz performance", Music Perception 19:3, 2002); three quarters is a dotted rhythm.
 */
import type { Note, Part } from '../model/arrangement.js';
import { median } from '../model/statistics.js';
import type { Swing, SwungPassage } from '../model/swing.js';
import { type Bar, beatsOfBars } from '../time/meterMap.js';
import type { Division } from './gridModel.js';
import { createRecall, sameItems } from './recall.js';

/** Swing lies between these percents: less is a lean, more a dotted rhythm. */
const LEAST = 55.5;
const MOST = 72;
/** It takes so many pairs to tell; and so many that an even one among them is put down to the hand. */
const FEWEST = 5;
const MANY = 8;
/** Full triplets are so much rarer where beats are swung: else long and short are two parts of a triplet. */
const RARER = 2;
const MUCH_RARER = 3;
/** Even pairs lie below this share of the pair, swung ones above. */
const BETWEEN = 0.54;
/** By so much of a pair may what is drawn be off its place: three ticks of 480. */
const DRAWN = 0.0063;
/** Shares of a beat within which a start is the beat's own. */
const HEAD = 0.14;

/** Where the second of a pair was struck: as a share of the pair, and in ticks. */
interface Pair {
  readonly share: number;
  readonly at: number;
  /** Index of its start. */
  readonly index: number;
}

/** A stretch that seems to be swung. */
export interface SeemsSwung {
  readonly swing: Swing;
  /** The starts from its first pair to its last, by index. */
  readonly first: number;
  readonly last: number;
}

/** Where beats lie. */
interface Beats {
  readonly bars: readonly Bar[];
  readonly ppq: number;
}

/** What to try for starts that rise, in ticks: eighths first, since they are met far more often. */
export const seemsSwung = (onsets: readonly number[], beats: Beats): readonly SeemsSwung[] => {
  const { eighths, sixteenths, triplets, early } = pairsOf(onsets, beats);
  return [stretch(eighths, 'eighths', early), stretch(sixteenths, 'sixteenths', early)].flatMap((found) =>
    found && found.pairs.length >= (found.pairs.length < MANY ? MUCH_RARER : RARER) * triplets
      ? [
          {
            swing: found.swing,
            first: (found.pairs[0] as Pair).index,
            last: (found.pairs[found.pairs.length - 1] as Pair).index,
          },
        ]
      : [],
  );
};

interface Pairs {
  readonly eighths: readonly Pair[];
  readonly sixteenths: readonly Pair[];
  /** Beats with three. */
  readonly triplets: number;
  /** How early the part's first starts of beats are, as a share of the beat. */
  readonly early: number;
}

const pairsOf = (onsets: readonly number[], { bars, ppq }: Beats): Pairs => {
  const eighths: Pair[] = [];
  const sixteenths: Pair[] = [];
  const heads: number[] = [];
  let triplets = 0;
  let next = 0;
  for (const { start, length, compound } of beatsOfBars(bars, ppq)) {
    if (next === onsets.length) break;
    const inside: Pair[] = [];
    for (; next < onsets.length; next += 1) {
      const at = onsets[next] as number;
      const share = (at - start) / length;
      if (share >= 1 - HEAD) break;
      if (share < HEAD) heads.push(share);
      else inside.push({ share, at, index: next });
    }
    if (compound || inside.length === 0) continue;
    const one = inside[0] as Pair;
    const other = inside[1];
    if (!other) {
      if (isPair(one)) eighths.push(one);
    } else if (inside.length === 2 && one.share > 0.22 && one.share < 0.45 && other.share > 0.56 && other.share < 0.78)
      triplets += 1;
    if (!inside.some(({ share }) => Math.abs(share - 0.5) < 0.07)) continue;
    for (const half of [0, 0.5]) {
      const pair = pairOfHalf(inside, half);
      if (pair) sixteenths.push(pair);
    }
  }
  return { eighths, sixteenths, triplets, early: -(median(heads) ?? 0) };
};

/** Even, swung or dotted. */
const isPair = ({ share }: Pair): boolean => share > 0.36 && share < 0.8;

/** The pair that fills a half of a beat: two that stand within one half are two of three. */
const pairOfHalf = (inside: readonly Pair[], half: number): Pair | null => {
  let only: Pair | null = null;
  for (const { share: ofBeat, at, index } of inside) {
    const share = (ofBeat - half) * 2;
    if (share <= HEAD || share >= 1 - HEAD) continue;
    if (only) return null;
    only = { share, at, index };
  }
  return only && isPair(only) ? only : null;
};

interface Stretch {
  readonly swing: Swing;
  readonly pairs: readonly Pair[];
  /** How many of them are even. */
  readonly even: number;
}

/** The stretch of pairs that lie above what is even: the run with the largest sum (Bentley, "Programming Pearls", 1986). */
const stretch = (pairs: readonly Pair[], pair: Swing['pair'], early: number): Stretch | null => {
  const shares = pairs.map(({ share }) => share + early * (pair === 'eighths' ? 1 : 2));
  let best = { sum: 0, from: 0, to: 0 };
  let run = { sum: 0, from: 0 };
  shares.forEach((share, index) => {
    if (run.sum <= 0) run = { sum: 0, from: index };
    run.sum += Math.max(-1, Math.min(1, (share - BETWEEN) * 10));
    if (run.sum > best.sum) best = { ...run, to: index + 1 };
  });
  const inside = shares.slice(best.from, best.to);
  const percent = 100 * (median(inside) ?? 0);
  const even = inside.filter((share) => share < BETWEEN).length;
  if (inside.length < FEWEST || percent < LEAST || percent > MOST || (inside.length < MANY && even > 0)) return null;
  // Thirds to the tick are drawn, and taken at their word.
  if (inside.every((share) => Math.abs(share - 2 / 3) <= DRAWN)) return null;
  return { swing: { percent, pair }, pairs: pairs.slice(best.from, best.to), even };
};

/** It takes so many pairs of all parts; fewer than this share of them may be even; and swing is no mere lean of some. */
const FEWEST_SHARED = 16;
const MOST_EVEN = 0.15;
const LEAST_SHARED = 57;
/** Starts nearer than this, in quarters, are one chord. */
const ONE_CHORD = 1 / 16;

const knownPairs = new WeakMap<readonly Note[], { readonly key: string; readonly pairs: Pairs }>();

const recalledPairs = createRecall<readonly number[], Pairs>({
  same: sameItems,
  sizeOf: (onsets) => onsets.length,
});

const pairsOfNotes = (notes: readonly Note[], scale: number, beats: Beats, key: string): Pairs => {
  const known = knownPairs.get(notes);
  if (known?.key === key) return known.pairs;
  const onsets: number[] = [];
  let last = Number.NEGATIVE_INFINITY;
  for (const { onset, muted } of notes) {
    if (muted || onset * scale - last < ONE_CHORD * beats.ppq) continue;
    last = onset * scale;
    onsets.push(last);
  }
  const pairs = recalledPairs(beats.bars, onsets, () => pairsOf(onsets, beats));
  knownPairs.set(notes, { key, pairs });
  return pairs;
};

/** The swing of the same pairs of all parts as before. */
const recalledSwing = createRecall<readonly Pairs[], SwungPassage | null>({
  same: sameItems,
  sizeOf: () => 1,
  most: 1,
});

/**
 * Where several parts swing together, so that a part with few pairs of its own is read as the others are. Notes in order,
 * `scale` ticks of the beats in one of theirs; `key` is the same for the same beats.
 */
export const sharedSwing = (
  parts: readonly Pick<Part, 'notes'>[],
  scale: number,
  beats: Beats,
  key: string,
): SwungPassage | null => {
  if (parts.length < 2) return null;
  const all = parts.map(({ notes }) => pairsOfNotes(notes, scale, beats, key));
  return recalledSwing(beats.bars, all, () => swingTogether(all, beats));
};

const swingTogether = (all: readonly Pairs[], beats: Beats): SwungPassage | null => {
  const pairs = all
    .flatMap(({ eighths, early }) => eighths.map((pair) => ({ ...pair, share: pair.share + early })))
    .sort((a, b) => a.at - b.at);
  const triplets = all.reduce((sum, own) => sum + own.triplets, 0);
  const found = stretch(pairs, 'eighths', 0);
  if (!found || found.pairs.length < Math.max(FEWEST_SHARED, RARER * triplets)) return null;
  if (found.swing.percent < LEAST_SHARED || found.even > MOST_EVEN * found.pairs.length) return null;
  const [first, last] = [found.pairs[0], found.pairs[found.pairs.length - 1]] as [Pair, Pair];
  // In whole percents and quarters, so that a change of one note does not have all parts read anew.
  return {
    swing: { ...found.swing, percent: Math.round(found.swing.percent) },
    from: (Math.floor(first.at / beats.ppq) - 1) * beats.ppq,
    to: (Math.ceil(last.at / beats.ppq) + 1) * beats.ppq,
  };
};

/** A share of a beat that is written even, as it is played; from 0 to 1. */
export const swungShare = (share: number, { percent, pair }: Swing): number => bent(share, pair, 0.5, percent / 100);

/** A share of a beat as it was played, where it is written even; from 0 to 1. */
export const evenShare = (share: number, { percent, pair }: Swing): number => bent(share, pair, percent / 100, 0.5);

/** Moves the middle of each pair from one share of it to another, and what lies on either side in proportion. */
const bent = (share: number, pair: Swing['pair'], from: number, to: number): number => {
  const size = pair === 'eighths' ? 1 : 0.5;
  const at = Math.min(1 / size - 1, Math.floor(share / size));
  const within = share / size - at;
  return size * (at + (within < from ? (within / from) * to : to + ((within - from) / (1 - from)) * (1 - to)));
};

/** What a beat that divides evenly costs more where pairs are swung. */
const EVEN_AMONG_SWUNG = 1.2;
/** Among swung pairs long and short is no triplet: what an empty place of one costs. */
const EMPTY_THIRD = 4;
/** A swung pair is as cheap as an even one elsewhere; what is finer was met less often, and may be three in the beat. */
const PRICES = {
  eighths: new Map([
    [2, 0.7],
    [4, 6],
  ]),
  sixteenths: new Map([[4, 1.7]]),
} as const;

/** The divisions of a simple beat where pairs are swung: swung ones beside the even ones, which cost more. */
export const swungDivisions = (plain: readonly Division[], swing: Swing): readonly Division[] => {
  const prices: ReadonlyMap<number, number> = PRICES[swing.pair];
  return plain
    .flatMap((division): readonly Division[] => {
      if (division.points === 3 && swing.pair === 'eighths') return [{ ...division, empty: EMPTY_THIRD }];
      const price = prices.get(division.points);
      if (price === undefined) return [division];
      const at = Array.from({ length: division.points + 1 }, (_, point) => swungShare(point / division.points, swing));
      return [
        { ...division, price: division.price + EVEN_AMONG_SWUNG },
        { points: division.points, price, family: 'swung', at },
      ];
    })
    .sort((a, b) => a.price - b.price);
};
