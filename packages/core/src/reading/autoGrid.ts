/**
 * Auto grid: decides the division of each beat from the starts in it, and learns from the part how late, how unsteady and
 * how drifting its player is. The published ground: Cemgil, Desain and Kappen, "Rhythm quantization for transcription",
 * Computer Music Journal 24:2 (2000), and Raphael, "A hybrid graphical model for rhythmic parsing", Artificial
 * Intelligence 137 (2002).
 */

import { beatsOfBars } from '../time/meterMap.js';
import type { StepContext } from './context.js';
import {
  type Attack,
  COMPOUND_BEAT,
  type Division,
  EXACT_POINTS,
  type FillModel,
  gainsOf,
  learnt,
  SIMPLE_BEAT,
  type TimingModel,
} from './gridModel.js';
import { type BeatAttacks, type Reading, searchGrid } from './gridSearch.js';

/** A beat and the division chosen for it. */
export interface GriddedBeat {
  readonly start: number;
  readonly length: number;
  /** How many parts; 0 where nothing starts. */
  readonly division: number;
  /** How much dearer the best other placing of its starts is; below 1 it is doubtful. Infinite where nothing starts. */
  readonly margin: number;
  /** Where that placing has them; null where there is none. */
  readonly others: readonly number[] | null;
}

/** Where each attack goes, and why. */
export interface AutoGrid {
  /** One target for each attack, in the same order; ticks of the context's PPQ, not rounded. */
  readonly targets: ArrayLike<number>;
  readonly beats: readonly GriddedBeat[];
  readonly timing: TimingModel;
}

/** Players to begin with, from a machine to a wild hand, steady and drifting: the likeliest is taken and refined. */
const PLAYERS: readonly TimingModel[] = [
  { lean: 0, spread: 10, drift: 6 },
  { lean: 0, spread: 20, drift: 8 },
  { lean: 0, spread: 34, drift: 8 },
  { lean: 0, spread: 52, drift: 8 },
  { lean: 0, spread: 11, drift: 36 },
  { lean: 0, spread: 24, drift: 30 },
];
/** So many attacks tell which of them it is. */
const ENOUGH_ATTACKS = 120;
/** How lines fill their slots before anything is known of the player. */
const FIRST_FILL: FillModel = { low: 0.72, high: 1.12 };
/** No hand is steadier (milliseconds): below this a start counts as exact. */
const LEAST_SPREAD = 6;
/** Wider than this a hand tells nothing more (milliseconds); judged by the lines of 35 ms. */
const MOST_SPREAD = 70;
/** Times the part is read and learnt from; judged by the drifting line. */
const PASSES = 2;
/** Longer parts are learnt from their first attacks, then read once. */
const ENOUGH_TO_LEARN = 400;
/** Milliseconds. */
const WANDERS_FAR = 18;

/** Finds targets for attacks (rising, in ticks). A part whose starts all stand on a grid already is left as it is. */
export const autoGrid = (attacks: readonly Attack[], context: StepContext): AutoGrid => {
  const exact = alreadyOnGrid(attacks, context);
  if (exact) {
    return { targets: attacks.map((a) => a.onset), beats: exact, timing: { lean: 0, spread: 0, drift: 0 } };
  }
  const learntFrom = attacks.length > ENOUGH_TO_LEARN ? attacks.slice(0, ENOUGH_TO_LEARN) : attacks;
  const sample = readerFor(learntFrom, context);
  let timing = likeliestPlayer(attacks, context);
  let habits: Habits = { fill: sample.line ? FIRST_FILL : null, counts: null, shift: null };
  let beats = sample.beats(habits);
  let reading = sample.read(beats, timing, habits);
  for (let pass = 0; pass < PASSES; pass += 1) {
    timing = timingOf(sample.residuals(reading), timing);
    habits = {
      fill: sample.line ? fillOf(learntFrom, reading.targets) : null,
      counts: countsOf(beats, reading),
      shift: sample.shift(reading.drift, timing),
    };
    beats = sample.beats(habits);
    reading = sample.read(beats, timing, habits);
  }
  if (learntFrom !== attacks) {
    const reader = readerFor(attacks, context);
    const read = (shift: Float64Array) => {
      beats = reader.beats({ ...habits, shift });
      reading = reader.read(beats, timing, { ...habits, shift });
    };
    read(reader.shift(new Float64Array(attacks.length), timing));
    // A player who wanders far is dealt out to beats once more, by where they wandered.
    if (timing.drift > WANDERS_FAR) read(reader.shift(reading.drift, timing));
  }
  const { targets, divisions, margins, others } = reading;
  return {
    targets,
    beats: beats.map(({ start, length }, i) => ({
      start,
      length,
      division: divisions[i] as number,
      margin: margins[i] as number,
      others: others[i] ?? null,
    })),
    timing,
  };
};

/** What has been learnt of a part: how lengths fill slots, which divisions it uses, how late it is at each attack. */
interface Habits {
  readonly fill: FillModel | null;
  readonly counts: ReadonlyMap<string, number> | null;
  readonly shift: Float64Array | null;
}

/** The search, tied to one part. */
const readerFor = (attacks: readonly Attack[], context: StepContext) => {
  const perMs = new Float64Array(attacks.length);
  const times = new Float64Array(attacks.length);
  for (let index = 0; index < attacks.length; index += 1) {
    const { onset } = attacks[index] as Attack;
    perMs[index] = context.tempoMap.ticksPerMillisecond(onset);
    times[index] = context.tempoMap.secondsAt(onset);
  }
  const line = isLine(attacks);
  return {
    perMs,
    line,
    beats: ({ counts, shift }: Habits) => beatsWith(attacks, shift, context, counts),
    read: (beats: readonly BeatAttacks[], timing: TimingModel, { fill }: Habits) => {
      const lean = perMs.map((ticks) => timing.lean * ticks);
      const sharing = sharingFor(line, attacks, perMs, timing);
      return searchGrid({ attacks, beats, gains: gainsOf(times, perMs, timing), lean, fill, sharing });
    },
    residuals: ({ targets }: Reading) =>
      attacks.map((attack, i) => (attack.onset - (targets[i] as number)) / (perMs[i] as number)),
    /** By how much each attack is late, drift and lean together, in ticks. */
    shift: (drift: Float64Array, { lean }: TimingModel) => drift.map((ticks, i) => ticks + lean * (perMs[i] as number)),
    /** Negative logarithm of how likely a reading is, up to a constant. */
    unlikelihood: ({ cost }: Reading, timing: TimingModel) =>
      cost - gainsOf(times, perMs, timing).precision.reduce((sum, p, i) => sum + Math.log(p * (perMs[i] as number)), 0),
  };
};

const likeliestPlayer = (attacks: readonly Attack[], context: StepContext): TimingModel => {
  const some = attacks.slice(0, ENOUGH_ATTACKS);
  const reader = readerFor(some, context);
  const habits: Habits = { fill: reader.line ? FIRST_FILL : null, counts: null, shift: null };
  const beats = reader.beats(habits);
  let best = PLAYERS[0] as TimingModel;
  let least = Number.POSITIVE_INFINITY;
  for (const player of PLAYERS) {
    const unlikelihood = reader.unlikelihood(reader.read(beats, player, habits), player);
    if (unlikelihood < least) {
      least = unlikelihood;
      best = player;
    }
  }
  return best;
};

/**
 * The grid of a part in which every start lies exactly on a division of its beat (drawn, or quantized before): there is
 * nothing to estimate, and what is fine there is meant. Null for any other part.
 */
const alreadyOnGrid = (attacks: readonly Attack[], context: StepContext): GriddedBeat[] | null => {
  const gridded: GriddedBeat[] = [];
  for (const beat of beatsWith(attacks, null, context, null)) {
    const inside = attacks.slice(beat.first, beat.first + beat.count);
    const compound = beat.divisions.some(({ points }) => points === 12);
    const fits = [
      ...beat.divisions.map(({ points }) => points).sort((a, b) => a - b),
      ...(compound ? EXACT_POINTS.compound : EXACT_POINTS.simple),
    ].find((points) =>
      inside.every(({ onset }) => {
        const place = ((onset - beat.start) * points) / beat.length;
        return Math.abs(place - Math.round(place)) * beat.length < points * 0.5;
      }),
    );
    if (!fits) return null;
    gridded.push({
      start: beat.start,
      length: beat.length,
      division: beat.count === 0 ? 0 : fits,
      margin: Number.POSITIVE_INFINITY,
      others: null,
    });
  }
  return gridded;
};

/** True where every start lies exactly on a division of its beat already. */
export const isOnGrid = (attacks: readonly Attack[], context: StepContext): boolean =>
  alreadyOnGrid(attacks, context) !== null;

const kindOf = (compound: boolean): string => (compound ? 'compound' : 'simple');

/** Deals the attacks out to beats, by where they would be without `shift`; the last beat is that of the last attack. */
const beatsWith = (
  attacks: readonly Attack[],
  shift: Float64Array | null,
  context: StepContext,
  counts: ReadonlyMap<string, number> | null,
): BeatAttacks[] => {
  const tables = new Map<boolean, readonly Division[]>(
    [false, true].map((compound) => {
      const plain = compound ? COMPOUND_BEAT : SIMPLE_BEAT;
      if (!counts) return [compound, plain];
      const own = new Map(plain.map((d) => [d.points, counts.get(kindOf(compound) + d.points) ?? 0]));
      return [compound, learnt(plain, own)];
    }),
  );
  const result: BeatAttacks[] = [];
  let next = 0;
  for (const beat of beatsOfBars(context.bars, context.ppq)) {
    const first = next;
    const end = beat.start + beat.length;
    while (next < attacks.length && (attacks[next] as Attack).onset - (shift?.[next] ?? 0) < end) next += 1;
    result.push({
      start: beat.start,
      length: beat.length,
      divisions: tables.get(beat.compound) as readonly Division[],
      first,
      count: next - first,
    });
    if (next === attacks.length) break;
  }
  return result;
};

const countsOf = (beats: readonly BeatAttacks[], { divisions }: Reading): Map<string, number> => {
  const counts = new Map<string, number>();
  beats.forEach((beat, index) => {
    if (beat.count === 0) return;
    const compound = beat.divisions.some((d) => d.points === 12);
    const key = kindOf(compound) + divisions[index];
    counts.set(key, (counts.get(key) ?? 0) + 1);
  });
  return counts;
};

/** Tones of a chord lie within this and so many spreads; further apart, sharing a point costs more and more. */
const TIGHT_CHORD = 28;
/** Tones of a chord lie within so many of the player’s spreads. */
const SPREADS_IN_CHORD = 2.2;
/** How fast sharing a point gets dear beyond that (milliseconds); judged by the keyboard rows. */
const LOOSENESS = 40;
/** Attacks that do not sound together are one within less (milliseconds). */
const ONE_ATTACK = 45;
/** Price that no reading pays willingly: two places, not one. */
const TWO_PLACES = 12;

/** What it costs two attacks to stand on one point: little for tones of a chord, much for notes that follow each other. */
const sharingFor =
  (line: boolean, attacks: readonly Attack[], perMs: Float64Array, { spread }: TimingModel) =>
  (gap: number, index: number): number => {
    const attack = attacks[index];
    if (!attack || attack.repeats) return TWO_PLACES;
    const milliseconds = gap / (perMs[index] as number);
    if (attack.together) {
      const beyond = Math.max(0, milliseconds - TIGHT_CHORD - SPREADS_IN_CHORD * spread);
      return Math.min(TWO_PLACES, 0.4 + (beyond / LOOSENESS) ** 2);
    }
    return line ? TWO_PLACES : Math.min(TWO_PLACES, 0.5 + (milliseconds / ONE_ATTACK) ** 2);
  };

/** A line sounds one note at a time: no more than this share of its attacks sound well into the next. */
const LINE_OVERLAPS = 0.2;

const isLine = (attacks: readonly Attack[]): boolean => {
  let overlapping = 0;
  for (let i = 1; i < attacks.length; i += 1) {
    const before = attacks[i - 1] as Attack;
    if (before.length > ((attacks[i] as Attack).onset - before.onset) * 1.4) overlapping += 1;
  }
  return overlapping <= 1 + LINE_OVERLAPS * (attacks.length - 1);
};

/** Robust estimates from residuals in milliseconds; few notes are trusted little. Drift shows in how neighbours agree. */
const timingOf = (residuals: readonly number[], guess: TimingModel): TimingModel => {
  const count = residuals.length;
  const trust = count / (count + 10);
  const sorted = [...residuals].sort((a, b) => a - b);
  const quantile = (q: number) => sorted[Math.min(count - 1, Math.floor(q * count))] ?? 0;
  const middle = quantile(0.5);
  const deviation = (quantile(0.8413) - quantile(0.1587)) / 2;
  const limit = Math.max(10, deviation * 3);
  const kept = residuals.map((r) => Math.max(-limit, Math.min(limit, r - middle)));
  const variance = kept.reduce((sum, r) => sum + r * r, 0) / Math.max(1, count);
  let shared = 0;
  for (let i = 1; i < count; i += 1) shared += (kept[i] as number) * (kept[i - 1] as number);
  shared = (shared / Math.max(1, count - 1)) * 1.08;
  const noise = 2 / Math.sqrt(count + 1);
  const driftVariance = shared > variance * noise ? Math.min(shared, variance * 0.97) : 0;
  const spread = Math.sqrt(Math.max(0, variance - driftVariance));
  return {
    lean: middle * trust,
    spread: Math.min(MOST_SPREAD, Math.max(LEAST_SPREAD, spread * trust + guess.spread * (1 - trust))),
    drift: Math.sqrt(driftVariance),
  };
};

/** How this line's lengths fill the slots that they plainly fill. */
const fillOf = (attacks: readonly Attack[], targets: ArrayLike<number>): FillModel => {
  const shares: number[] = [];
  for (let i = 1; i < attacks.length; i += 1) {
    const slot = (targets[i] as number) - (targets[i - 1] as number);
    const share = (attacks[i - 1] as Attack).length / slot;
    if (slot > 0 && share > 0.68 && share < 1.4) shares.push(share);
  }
  if (shares.length < 12) return FIRST_FILL;
  shares.sort((a, b) => a - b);
  const at = (q: number) => shares[Math.floor(q * (shares.length - 1))] as number;
  return { low: at(0.06), high: at(0.94) };
};
