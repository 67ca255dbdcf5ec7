/**
 * Key finding by the probe-tone profiles of Krumhansl and Kessler (Psychological Review 89, 1982), and by what a musician
 * hears besides: where the music comes to rest, how it begins, which semitones lead to their goal, and which notes the scale
 * does not have.
 */

import { SCALES } from './scales.js';

/** A key: sharps (positive) or flats (negative) of its signature, -7 to 7. */
export interface Key {
  readonly fifths: number;
  readonly minor: boolean;
}

/** Probe-tone ratings from the tonic up (Krumhansl and Kessler 1982; from memory). */
const MAJOR = [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88];
const MINOR = [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17];

/** Signature of the major key on each pitch class, within six sharps or flats. */
const MAJOR_FIFTHS = [0, -5, 2, -3, 4, -1, 6, 1, -4, 3, -2, 5];

/** A mode: its steps from the tonic, its signature against the major one's, and the profile it is heard by. */
interface Mode {
  readonly minor: boolean;
  /** Fifths below the major key on the tonic. */
  readonly below: number;
  readonly scale: readonly number[];
  readonly profile: readonly number[];
  /** How seldom it is met, against major and minor. */
  readonly price: number;
  /** A step of its own, and the one that its neighbour has instead. */
  readonly instead?: { readonly own: number; readonly other: number };
}

const MODES: readonly Mode[] = [
  { minor: false, below: 0, scale: SCALES.major.steps, profile: MAJOR, price: 0, instead: { own: 11, other: 10 } },
  // With the raised steps that lead up to its tonic.
  {
    minor: true,
    below: 3,
    scale: [...SCALES.minor.steps, 11],
    profile: MINOR,
    price: 0,
    instead: { own: 8, other: 9 },
  },
  { minor: true, below: 2, scale: SCALES.dorian.steps, profile: MINOR, price: 0.12, instead: { own: 9, other: 8 } },
  {
    minor: false,
    below: 1,
    scale: SCALES.mixolydian.steps,
    profile: MAJOR,
    price: 0.16,
    instead: { own: 10, other: 11 },
  },
];

/** What is heard of the key in some music; sums of parts are what is heard of them together. */
export interface KeySigns {
  /** How long each pitch class sounds, C first. */
  readonly weights: readonly number[];
  /** How long each sounds that leads a semitone up to the next note. */
  readonly leading: readonly number[];
  /** What each has of the first notes… */
  readonly first: readonly number[];
  /** …and of the last, the lowest the most. */
  readonly last: readonly number[];
}

type Sounding = { readonly pitch: number; readonly onset: number; readonly duration: number };

const zeros = (): number[] => Array<number>(12).fill(0);

/** How long each pitch class sounds, C first. */
const pitchClassWeights = (notes: readonly Pick<Sounding, 'pitch' | 'duration'>[]): readonly number[] => {
  const weights = zeros();
  for (const note of notes) weights[note.pitch % 12] = (weights[note.pitch % 12] as number) + note.duration;
  return weights;
};

/** What notes in order of onset say of their key. */
export const keySigns = (notes: readonly Sounding[]): KeySigns => {
  const [leading, first, last] = [zeros(), zeros(), zeros()];
  const add = (list: number[], pitch: number, by: number) => {
    list[pitch % 12] = (list[pitch % 12] as number) + by;
  };
  for (let index = 1; index < notes.length; index += 1) {
    const [before, note] = [notes[index - 1] as Sounding, notes[index] as Sounding];
    if (note.pitch === before.pitch + 1 && note.onset > before.onset) add(leading, before.pitch, before.duration);
  }
  const head = notes[0];
  if (head) {
    for (const { pitch, onset } of notes.slice(0, FEW)) if (onset === head.onset) add(first, pitch, 1);
    const ending = notes.slice(-FEW);
    const at = Math.max(...ending.map(({ onset }) => onset));
    const lowest = Math.min(...ending.filter(({ onset }) => onset === at).map(({ pitch }) => pitch));
    for (const { pitch, onset } of ending) if (onset === at) add(last, pitch, pitch === lowest ? 1 : 0.4);
  }
  return { weights: pitchClassWeights(notes), leading, first, last };
};

const sameNumbers = (one: readonly number[], other: readonly number[]): boolean =>
  one.every((value, index) => value === other[index]);

/** True where two stretches of music say exactly the same of their key. */
export const sameSigns = (one: KeySigns, other: KeySigns): boolean =>
  sameNumbers(one.weights, other.weights) &&
  sameNumbers(one.leading, other.leading) &&
  sameNumbers(one.first, other.first) &&
  sameNumbers(one.last, other.last);

/** First and last chords have no more notes than this. */
const FEW = 8;

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);

/** What is heard of several parts together. */
export const together = (signs: readonly KeySigns[]): KeySigns => {
  const all = { weights: zeros(), leading: zeros(), first: zeros(), last: zeros() };
  for (const { weights, leading, first, last } of signs) {
    addTo(all.weights, weights);
    addTo(all.leading, leading);
    addTo(all.first, first);
    addTo(all.last, last);
  }
  return all;
};

const addTo = (list: number[], own: readonly number[]): void => {
  for (let index = 0; index < list.length; index += 1) list[index] = (list[index] as number) + (own[index] as number);
};

const correlation = (a: readonly number[], b: readonly number[]): number => {
  const meanA = sum(a) / a.length;
  const meanB = sum(b) / b.length;
  let product = 0;
  let squareA = 0;
  let squareB = 0;
  a.forEach((value, index) => {
    const da = value - meanA;
    const db = (b[index] as number) - meanB;
    product += da * db;
    squareA += da * da;
    squareB += db * db;
  });
  return squareA * squareB === 0 ? 0 : product / Math.sqrt(squareA * squareB);
};

/** What each sign counts for against the correlation of the profile (-1 to 1); judged by melodies from memory. */
const COUNTS = {
  lastOnTonic: 0.35,
  lastInTriad: 0.08,
  firstOnTonic: 0.06,
  firstInTriad: 0.06,
  leadsToTonic: 0.3,
  leadsToFourth: 0.1,
  outside: 1.6,
  otherStep: 0.25,
} as const;

const share = (part: number, whole: number): number => (whole === 0 ? 0 : part / whole);

const scoreOf = (mode: Mode, fromTonic: KeySigns): number => {
  const { weights, leading, first, last } = fromTonic;
  const [total, lasts, firsts, leads] = [sum(weights), sum(last), sum(first), sum(leading)];
  const at = (list: readonly number[], step: number) => list[step] as number;
  const third = mode.minor ? 3 : 4;
  const inTriad = (list: readonly number[]) => at(list, third) + at(list, 7);
  const { instead } = mode;
  // The step that tells a mode from its neighbour: there is the other one, and never this one.
  const other = instead && at(weights, instead.own) === 0 && at(weights, instead.other) > 0 ? COUNTS.otherStep : 0;
  const outside = sum(weights.filter((_, step) => !mode.scale.includes(step)));
  return (
    correlation(weights, mode.profile) -
    mode.price +
    COUNTS.lastOnTonic * share(at(last, 0), lasts) +
    COUNTS.lastInTriad * share(inTriad(last), lasts) +
    COUNTS.firstOnTonic * share(at(first, 0), firsts) +
    COUNTS.firstInTriad * share(inTriad(first), firsts) +
    COUNTS.leadsToTonic * share(at(leading, 11), Math.max(leads, total / 12)) +
    COUNTS.leadsToFourth * share(at(leading, third), Math.max(leads, total / 12)) -
    COUNTS.outside * share(outside, total) -
    other
  );
};

/** The key that fits best; C major where there are no notes. */
export const findKey = (signs: KeySigns): Key => {
  let best: Key = { fifths: 0, minor: false };
  if (sum(signs.weights) === 0) return best;
  let highest = Number.NEGATIVE_INFINITY;
  for (let tonic = 0; tonic < 12; tonic += 1) {
    const turned = (list: readonly number[]) => list.map((_, index) => list[(index + tonic) % 12] as number);
    const fromTonic: KeySigns = {
      weights: turned(signs.weights),
      leading: turned(signs.leading),
      first: turned(signs.first),
      last: turned(signs.last),
    };
    for (const mode of MODES) {
      const score = scoreOf(mode, fromTonic);
      if (score <= highest + 1e-9) continue;
      highest = score;
      best = { fifths: withinSix((MAJOR_FIFTHS[tonic] as number) - mode.below), minor: mode.minor };
    }
  }
  return best;
};

/** The same signature with six signs at most. */
const withinSix = (fifths: number): number => (fifths > 6 ? fifths - 12 : fifths < -6 ? fifths + 12 : fifths);

/** What is heard of the key in one bar. */
export interface BarOfKey {
  readonly start: number;
  readonly signs: KeySigns;
}

/** A change of key is taken where it makes the bars so much likelier (natural logarithm of odds); judged by remembered tunes. */
const CHANGE_OF_KEY = 8;
/** One that begins off the groups of four bars that tunes are made of costs so much more. */
const OFF_PHRASE = 1.5;
const PHRASE_BARS = 4;
/** A bar tells as much as so many different sounds would. */
const MOST_OF_A_BAR = 5;
/** A key is one of its own from so many bars on. */
const FEWEST_BARS = 8;

const shares = (profile: readonly number[]): readonly number[] => profile.map((value) => value / sum(profile));

/** How likely each pitch class is in each of the 24 keys, as logarithms; those outside its scale are rare. */
const LIKELIHOODS: readonly { readonly key: Key; readonly logs: readonly number[] }[] = Array.from(
  { length: 12 },
  (_, tonic) => tonic,
).flatMap((tonic) =>
  MODES.slice(0, 2).map((mode) => {
    const own = shares(mode.profile.map((value, step) => (mode.scale.includes(step) ? value : value / 4)));
    return {
      key: { fifths: withinSix((MAJOR_FIFTHS[tonic] as number) - mode.below), minor: mode.minor },
      logs: own.map((_, pitch) => Math.log(own[(pitch - tonic + 12) % 12] as number)),
    };
  }),
);

const likelihoods = new WeakMap<KeySigns, readonly number[]>();

/** How likely a bar is in each of the keys; once for each bar. */
const likelihoodsOf = (signs: KeySigns): readonly number[] => {
  let known = likelihoods.get(signs);
  if (!known) {
    known = weighed(signs);
    likelihoods.set(signs, known);
  }
  return known;
};

const weighed = ({ weights }: KeySigns): readonly number[] => {
  const total = sum(weights);
  return LIKELIHOODS.map(({ logs }) => {
    if (total === 0) return 0;
    let all = 0;
    for (let pitch = 0; pitch < 12; pitch += 1) all += (weights[pitch] as number) * (logs[pitch] as number);
    return (all / total) * MOST_OF_A_BAR;
  });
};

/**
 * The keys of a piece, each from the bar it begins in on. `whole` is what is heard of all of it. Changes are found by
 * signature, where a stretch of bars speaks for one.
 */
export const findKeys = (whole: KeySigns, bars: readonly BarOfKey[]): readonly (Key & { readonly start: number })[] => {
  const starts = bars.length < 2 * FEWEST_BARS ? [0] : keyStretches(bars);
  if (starts.length < 2) return [{ ...findKey(whole), start: bars[0]?.start ?? 0 }];
  const found: (Key & { readonly start: number })[] = [];
  starts.forEach((from, index) => {
    const stretch = bars.slice(from, starts[index + 1] ?? bars.length);
    const key = findKey(withEnds(together(stretch.map(({ signs }) => signs)), stretch));
    if (found[found.length - 1]?.fifths !== key.fifths) found.push({ ...key, start: (bars[from] as BarOfKey).start });
  });
  return found;
};

/** The first bars' beginning and the last bars' ending speak for a whole stretch. */
const withEnds = (signs: KeySigns, bars: readonly BarOfKey[]): KeySigns => {
  const sounding = bars.filter((bar) => sum(bar.signs.weights) > 0);
  const [first, last] = [sounding[0], sounding[sounding.length - 1]];
  return first && last ? { ...signs, first: first.signs.first, last: last.signs.last } : signs;
};

/** Indexes of the bars in which another signature begins to be the likeliest (Viterbi 1967), stretches of a few bars left out. */
const keyStretches = (bars: readonly BarOfKey[]): number[] => {
  let costs = likelihoodsOf((bars[0] as BarOfKey).signs).map((likelihood) => -likelihood);
  const cameFrom: number[][] = [];
  for (let bar = 1; bar < bars.length; bar += 1) {
    const change = CHANGE_OF_KEY + (bar % PHRASE_BARS === 0 ? 0 : OFF_PHRASE);
    const cheapest = costs.indexOf(Math.min(...costs));
    const from = costs.map((cost, key) => (cost <= (costs[cheapest] as number) + change ? key : cheapest));
    cameFrom.push(from);
    const so = costs;
    costs = likelihoodsOf((bars[bar] as BarOfKey).signs).map((likelihood, key) => {
      const before = from[key] as number;
      return (so[before] as number) + (before === key ? 0 : change) - likelihood;
    });
  }
  let key = costs.indexOf(Math.min(...costs));
  const keys = [key];
  for (let bar = bars.length - 1; bar > 0; bar -= 1) {
    key = (cameFrom[bar - 1] as number[])[key] as number;
    keys.unshift(key);
  }
  const signature = (index: number) => LIKELIHOODS[keys[index] as number]?.key.fifths;
  const starts = keys.flatMap((_, index) => (index === 0 || signature(index) !== signature(index - 1) ? [index] : []));
  // A short stretch goes with the one before it; a short first one with the one after.
  return starts.filter((from, index) => {
    if (index === 0) return true;
    const long = (starts[index + 1] ?? bars.length) - from >= FEWEST_BARS;
    return long && from >= FEWEST_BARS;
  });
};
