/**
 * Auto grid: decides the division of each beat from the starts in it, and learns from the part how late, how unsteady and
 * how drifting its player is. The published ground: Cemgil, Desain and Kappen, "Rhythm quantization for transcription",
 * Computer Music Journal 24:2 (2000), and Raphael, "A hybrid graphical model for rhythmic parsing", Artificial
 * Intelligence 137 (2002).
 */

import type { Swing, SwungPassage } from '../model/swing.js';
import { beatsOfBars } from '../time/meterMap.js';
import { type CommonPlaces, commonPlaces, sameCommon } from './commonPlaces.js';
import type { StepContext } from './context.js';
import { type FigureCost, type FigureRead, figureCosts } from './figures.js';
import {
  type Attack,
  COMPOUND_BEAT,
  type Division,
  divisionKey,
  EXACT_POINTS,
  type FillModel,
  gainsOf,
  learnt,
  SIMPLE_BEAT,
  type TimingModel,
} from './gridModel.js';
import { type BeatAttacks, type Reading, searchGrid } from './gridSearch.js';
import { createRecall } from './recall.js';
import { seemsSwung, swungDivisions } from './swing.js';

/** A beat and the division chosen for it. */
export interface GriddedBeat {
  readonly start: number;
  readonly length: number;
  /** How many parts; 0 where nothing starts. */
  readonly division: number;
  /** True where its pairs are swung, or would be if it had any. */
  readonly swung: boolean;
  /** What its own pairs are; null where it has none, or three. */
  readonly pairs: 'swung' | 'even' | null;
  /** How much dearer the best other placing of its starts is; below 1 it is doubtful. Infinite where nothing starts. */
  readonly margin: number;
  /** Where that placing has them; null where there is none. */
  readonly others: readonly number[] | null;
}

/** Where each attack goes, and why. */
export interface AutoGrid {
  /** Where each attack is written, in the same order; ticks of the context's PPQ, not rounded. */
  readonly targets: ArrayLike<number>;
  /** Where each was to be played: elsewhere than it is written where pairs are swung. */
  readonly played: ArrayLike<number>;
  /** How its pairs are swung; null where they are even. */
  readonly swing: Swing | null;
  readonly beats: readonly GriddedBeat[];
  readonly timing: TimingModel;
  /** Where other parts begin, where it was read by that too. */
  readonly heard: CommonPlaces | null;
  /** True where the hand is unsteady. */
  readonly rough: boolean;
  /** Attacks (by index) that would stand elsewhere, were it not for the figures that the part plays. */
  readonly byFigures: ReadonlySet<number>;
}

/** What autoGrid may do: write swung pairs even, and hear where other parts begin. */
export interface GridWays {
  readonly swings?: boolean;
  readonly hears?: boolean;
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
/** Fewer do not tell whether a hand is unsteady. */
const FEWEST_ATTACKS = 16;
/** How lines fill their slots before anything is known of the player. */
const FIRST_FILL: FillModel = { low: 0.72, high: 1.12, rest: 1.6, oddRest: 1.6 };
/** No hand is steadier (milliseconds): below this a start counts as exact. */
const LEAST_SPREAD = 6;
/** Wider than this a hand tells nothing more (milliseconds); judged by the lines of 35 ms. */
const MOST_SPREAD = 70;
/** Times the part is read and learnt from; judged by the drifting line. */
const PASSES = 2;
/** …and so many times more from its figures, where its hand is unsteady; judged by the lines of 40 to 60 ms, as is the next. */
const FIGURE_PASSES = 3;
/** What is met in general says less of a part that is read by its figures: it stands for so many beats. */
const PRIOR_BY_FIGURES = 2;
/** Longer parts are learnt from their first attacks, then read once. */
const ENOUGH_TO_LEARN = 400;
/** Milliseconds. */
const WANDERS_FAR = 18;
/** A hand less steady than this is read by the part's own figures, and hears where other parts begin (milliseconds). */
const ROUGH = 22;
/** How much likelier a place is where one other part begins, where three do, and so on: so many times the logarithm. */
const FAVOUR = 1.5;
/** More parts than this say no more than they. */
const MOST_HEARD = 7;

/** All that a grid is made from. */
interface GridAbout extends Pick<StepContext, 'ppq' | 'tempoMap'> {
  readonly attacks: readonly Attack[];
  readonly swing: string;
  readonly oneNote: boolean;
}

const sameAttacks = (a: readonly Attack[], b: readonly Attack[]): boolean =>
  a.length === b.length &&
  a.every((one, index) => {
    const other = b[index] as Attack;
    return (
      one.onset === other.onset &&
      one.length === other.length &&
      one.last === other.last &&
      one.repeats === other.repeats &&
      one.cut === other.cut &&
      one.together === other.together
    );
  });

const recalled = createRecall<GridAbout, AutoGrid>({
  same: (one, other) =>
    one.ppq === other.ppq &&
    one.tempoMap === other.tempoMap &&
    one.swing === other.swing &&
    one.oneNote === other.oneNote &&
    sameAttacks(one.attacks, other.attacks),
  sizeOf: ({ attacks }) => attacks.length,
});

/**
 * Finds targets for attacks (rising, in ticks). A part whose starts all stand on a grid already is left as it is. Pairs that
 * are played long and short are written even where `swings` is set; an unsteady hand is read by where other parts begin as
 * well, where `hears` is set. What was found for the same attacks is found again at once.
 */
export const autoGrid = (attacks: readonly Attack[], context: StepContext, ways: GridWays = {}): AutoGrid => {
  const { bars, ppq, tempoMap } = context;
  const { swings = false, hears = false } = ways;
  const swing = JSON.stringify([swings, hears, context.swing]);
  return recalled(
    bars,
    { attacks, ppq, tempoMap, swing, oneNote: context.instrument.oneNote },
    () => gridFor(attacks, context, ways),
    ({ heard }) => !heard || sameCommon(heard, heardIn(context)),
  );
};

/** Where the other parts begin, each read by itself; null where there is none. */
export const heardIn = (context: StepContext): CommonPlaces | null =>
  commonPlaces(context, (attacks, own) => autoGrid(attacks, own, { swings: true }).targets);

const gridFor = (
  attacks: readonly Attack[],
  context: StepContext,
  { swings = false, hears = false }: GridWays,
): AutoGrid => {
  const exact = alreadyOnGrid(onsetsOf(attacks), context);
  if (exact) {
    const targets = attacks.map((a) => a.onset);
    return {
      targets,
      played: targets,
      beats: exact,
      timing: { lean: 0, spread: 0, drift: 0 },
      swing: null,
      heard: null,
      rough: false,
      byFigures: NONE,
    };
  }
  const swing = swings ? (swingOf(attacks, context) ?? context.swing) : null;
  const learntFrom = attacks.length > ENOUGH_TO_LEARN ? attacks.slice(0, ENOUGH_TO_LEARN) : attacks;
  const sample = readerFor(learntFrom, context);
  let { player: timing } = likeliestPlayer(attacks.slice(0, ENOUGH_ATTACKS), context, swing);
  let habits = firstHabits(sample.line, swing);
  let beats = sample.beats(habits);
  let reading = sample.read(beats, timing, habits);
  const learn = (byFigures: boolean) => {
    timing = timingOf(sample.residuals(reading), timing);
    const lastRead = figuresRead(beats, reading);
    habits = {
      ...habits,
      fill: sample.line ? fillOf(learntFrom, reading.targets) : null,
      lastRead,
      counts: countsOf(beats, lastRead),
      figures: byFigures ? figureCosts(lastRead.filter((read) => read !== null)) : null,
      shift: sample.shift(reading.drift, timing),
    };
    beats = sample.beats(habits);
    reading = sample.read(beats, timing, habits);
  };
  for (let pass = 0; pass < PASSES; pass += 1) learn(false);
  const rough = timing.spread > ROUGH;
  for (let pass = 0; rough && pass < FIGURE_PASSES; pass += 1) learn(true);
  const heard = hears && rough ? heardIn(context) : null;
  if (heard) {
    habits = { ...habits, favour: (place) => FAVOUR * Math.log1p(Math.min(MOST_HEARD, heard.partsAt(place))) };
    for (let pass = 0; pass < PASSES; pass += 1) learn(true);
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
  const { targets, written, divisions, margins, others } = reading;
  const byFigures = habits.figures
    ? elsewhere(written, readerFor(attacks, context).read(beats, timing, { ...habits, figures: null }).written)
    : NONE;
  const swung = swungBeats(divisions);
  return {
    targets: written,
    played: targets,
    swing: swing?.swing ?? null,
    beats: beats.map(({ start, length }, i) => ({
      start,
      length,
      division: divisions[i]?.points ?? 0,
      swung: swung[i] as boolean,
      pairs: pairsIn(divisions[i] ?? null),
      margin: margins[i] as number,
      others: others[i] ?? null,
    })),
    timing,
    heard,
    rough,
    byFigures,
  };
};

const NONE: ReadonlySet<number> = new Set();

/** Which of some places are not those of another reading. */
const elsewhere = (places: Float64Array, others: Float64Array): ReadonlySet<number> => {
  const found = new Set<number>();
  places.forEach((place, index) => {
    if (Math.abs(place - (others[index] as number)) > 1e-6) found.add(index);
  });
  return found;
};

const pairsIn = (division: Division | null): GriddedBeat['pairs'] =>
  division?.family === 'swung' ? 'swung' : division?.family === 'duple' && division.points < 8 ? 'even' : null;

/** Which beats are swung: those that say nothing go by the one before them. */
const swungBeats = (divisions: readonly (Division | null)[]): readonly boolean[] => {
  const told = (division: Division | null) => division !== null && division.points > 1;
  let swung = divisions.find(told)?.at !== undefined;
  return divisions.map((division) => {
    if (told(division)) swung = division?.at !== undefined;
    return swung;
  });
};

/** What has been learnt of a part: how lengths fill slots, which divisions it uses, how late it is at each attack. */
interface Habits {
  readonly fill: FillModel | null;
  /** How each beat was read last, and how many of each kind and division that makes. */
  readonly lastRead: readonly (FigureRead | null)[];
  readonly counts: ReadonlyMap<string, number> | null;
  readonly shift: Float64Array | null;
  readonly swing: SwungPassage | null;
  readonly favour: ((written: number) => number) | null;
  readonly figures: FigureCost | null;
}

/** What is thought of a part of which nothing is known yet. */
const firstHabits = (line: boolean, swing: SwungPassage | null): Habits => ({
  fill: line ? FIRST_FILL : null,
  lastRead: [],
  counts: null,
  shift: null,
  swing,
  favour: null,
  figures: null,
});

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
    beats: (habits: Habits) => beatsWith(attacks, context, habits),
    read: (beats: readonly BeatAttacks[], timing: TimingModel, { fill, favour, figures }: Habits) => {
      const lean = perMs.map((ticks) => timing.lean * ticks);
      const sharing = sharingFor(line, line && context.instrument.oneNote, attacks, perMs, timing);
      return searchGrid({ attacks, beats, gains: gainsOf(times, perMs, timing), lean, fill, sharing, favour, figures });
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

/** True for an unsteady hand, as far as its first attacks tell; false where they are few. */
export const isRoughHand = (attacks: readonly Attack[], context: StepContext): boolean => {
  const some = attacks.slice(0, ENOUGH_ATTACKS);
  if (some.length < FEWEST_ATTACKS || alreadyOnGrid(onsetsOf(some), context)) return false;
  // Most hands are plainly steady; what is left may be a steady one that swings.
  return likeliestPlayer(some, context, null).player.spread > ROUGH && autoGrid(some, context, { swings: true }).rough;
};

/** The likeliest of the players for some attacks, and how unlikely they are by that one. */
const likeliestPlayer = (some: readonly Attack[], context: StepContext, swing: SwungPassage | null) => {
  const reader = readerFor(some, context);
  const habits = firstHabits(reader.line, swing);
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
  return { player: best, unlikelihood: least };
};

/** Swung pairs must make a part so much likelier (natural logarithm): judged by the lines with no swing, the widest too. */
const PLAINLY_SWUNG = 6;

/** How the part is swung, where that is plainly likelier than that it is not. */
const swingOf = (attacks: readonly Attack[], context: StepContext): SwungPassage | null => {
  const onsets = attacks.map(({ onset }) => onset);
  for (const { swing, first, last } of seemsSwung(onsets, context)) {
    const passage = { swing, from: 0, to: Number.POSITIVE_INFINITY };
    const some = attacks.slice(Math.max(0, first - 1), Math.min(last + 2, first + ENOUGH_ATTACKS));
    const even = likeliestPlayer(some, context, null).unlikelihood;
    if (likeliestPlayer(some, context, passage).unlikelihood + PLAINLY_SWUNG < even) return passage;
  }
  return null;
};

/**
 * The grid of a part in which every start lies exactly on a division of its beat (drawn, or quantized before): there is
 * nothing to estimate, and what is fine there is meant. Null for any other part.
 */
const alreadyOnGrid = (onsets: ArrayLike<number>, context: StepContext): GriddedBeat[] | null => {
  const gridded: GriddedBeat[] = [];
  let next = 0;
  for (const { start, length, compound } of beatsOfBars(context.bars, context.ppq)) {
    if (next === onsets.length) break;
    const first = next;
    while (next < onsets.length && (onsets[next] as number) < start + length) next += 1;
    const fits = (compound ? EXACT_PLACES.compound : EXACT_PLACES.simple).find((points) => {
      for (let index = first; index < next; index += 1) {
        const place = (((onsets[index] as number) - start) * points) / length;
        if (Math.abs(place - Math.round(place)) * length >= points * 0.5) return false;
      }
      return true;
    });
    // Most parts are seen not to be on the grid at their first beat.
    if (!fits) return null;
    gridded.push({
      start,
      length,
      division: next === first ? 0 : fits,
      swung: false,
      pairs: null,
      margin: Number.POSITIVE_INFINITY,
      others: null,
    });
  }
  return gridded;
};

const rising = (divisions: readonly Division[]): readonly number[] =>
  divisions.map(({ points }) => points).sort((a, b) => a - b);

/** How beats may divide where all their starts are exact, the plainest first. */
const EXACT_PLACES = {
  simple: [...rising(SIMPLE_BEAT), ...EXACT_POINTS.simple],
  compound: [...rising(COMPOUND_BEAT), ...EXACT_POINTS.compound],
};

const onsetsOf = (attacks: readonly Attack[]): Float64Array => {
  const onsets = new Float64Array(attacks.length);
  for (let index = 0; index < attacks.length; index += 1) onsets[index] = (attacks[index] as Attack).onset;
  return onsets;
};

/** True where every start lies exactly on a division of its beat already. */
export const isOnGrid = (onsets: ArrayLike<number>, context: StepContext): boolean =>
  alreadyOnGrid(onsets, context) !== null;

const kindOf = (compound: boolean): string => (compound ? 'compound' : 'simple');

/** Deals the attacks out to beats, by where they would be without `shift`; the last beat is that of the last attack. */
const beatsWith = (
  attacks: readonly Attack[],
  context: StepContext,
  { lastRead, counts, shift, swing, figures }: Omit<Habits, 'fill' | 'favour'>,
): BeatAttacks[] => {
  const taught = (plain: readonly Division[], compound: boolean, own: FigureRead | null): readonly Division[] => {
    if (!counts) return plain;
    const of = (division: Division) => counts.get(kindOf(compound) + divisionKey(division)) ?? 0;
    const others = new Map(plain.map((d) => [divisionKey(d), of(d)]));
    // No beat is a witness for itself.
    if (own) others.set(divisionKey(own.division), of(own.division) - own.weight);
    return figures ? learnt(plain, others, PRIOR_BY_FIGURES) : learnt(plain, others);
  };
  // Most beats of a long part are none of those learnt from.
  const general = new Map<readonly Division[], readonly Division[]>();
  const divisionsOf = (plain: readonly Division[], compound: boolean, own: FigureRead | null): readonly Division[] => {
    if (own) return taught(plain, compound, own);
    const known = general.get(plain) ?? taught(plain, compound, null);
    general.set(plain, known);
    return known;
  };
  const swung = swing ? swungDivisions(SIMPLE_BEAT, swing.swing) : SIMPLE_BEAT;
  const swings = (start: number) => swing !== null && start >= swing.from && start < swing.to;
  const result: BeatAttacks[] = [];
  let next = 0;
  for (const beat of beatsOfBars(context.bars, context.ppq)) {
    const first = next;
    const end = beat.start + beat.length;
    while (next < attacks.length && (attacks[next] as Attack).onset - (shift?.[next] ?? 0) < end) next += 1;
    const own = lastRead[result.length] ?? null;
    const plain = beat.compound ? COMPOUND_BEAT : swings(beat.start) ? swung : SIMPLE_BEAT;
    const { start, length, compound } = beat;
    const divisions = divisionsOf(plain, compound, own);
    result.push({ start, length, compound, divisions, first, count: next - first, lastRead: own });
    if (next === attacks.length) break;
  }
  return result;
};

/** How each beat was read: what is learnt of the part. A reading that is hardly cheaper than another counts half. */
const figuresRead = (
  beats: readonly BeatAttacks[],
  { divisions, written, margins }: Reading,
): readonly (FigureRead | null)[] =>
  beats.map((beat, index) => {
    const division = divisions[index];
    if (!division) return null;
    let struck = 0;
    // The last attack of the beat before may stand on this one's beginning.
    for (let at = Math.max(0, beat.first - 1); at < beat.first + beat.count; at += 1) {
      const point = Math.round((((written[at] as number) - beat.start) / beat.length) * division.points);
      if (point >= 0 && point < division.points) struck |= 1 << point;
    }
    return { division, struck, weight: 1 / (1 + Math.exp(-(margins[index] as number))) };
  });

const countsOf = (beats: readonly BeatAttacks[], read: readonly (FigureRead | null)[]): Map<string, number> => {
  const counts = new Map<string, number>();
  beats.forEach(({ compound }, index) => {
    const one = read[index];
    if (!one) return;
    const key = kindOf(compound) + divisionKey(one.division);
    counts.set(key, (counts.get(key) ?? 0) + one.weight);
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
/** What a tone of a chord costs; and two at once on an instrument that plays one at a time, where starts came close. */
const IN_A_CHORD = 0.4;
const TWO_AT_ONCE = 8;
/** Price that no reading pays willingly: two places, not one. */
const TWO_PLACES = 12;

/** What it costs two attacks to stand on one point: little for tones of a chord, much for notes that follow each other. */
const sharingFor =
  (line: boolean, oneNote: boolean, attacks: readonly Attack[], perMs: Float64Array, { spread }: TimingModel) =>
  (gap: number, index: number): number => {
    const attack = attacks[index];
    if (!attack || attack.repeats) return TWO_PLACES;
    const milliseconds = gap / (perMs[index] as number);
    if (attack.together) {
      const beyond = Math.max(0, milliseconds - TIGHT_CHORD - SPREADS_IN_CHORD * spread);
      return Math.min(TWO_PLACES, (oneNote ? TWO_AT_ONCE : IN_A_CHORD) + (beyond / LOOSENESS) ** 2);
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

/** A rest costs from so little, where every note may be detached, up to so much… */
const REST = { least: FIRST_FILL.rest, most: 3.5 } as const;
/** …by the natural logarithm of how seldom the part has one, and so much more; judged by the lines of 40 to 60 ms. */
const REST_BEYOND = 0.5;
/** Rests and slots that stand for what is met in general. */
const RESTS_MET = 2;
const SLOTS_MET = 20;
/** A slot is plainly not filled where it lacks so much more of the usual share. */
const PLAINLY_SHORT = 0.04;
/** Rests that begin off the beat cost no more than so much more; nothing more where every note may be detached. */
const OFF_THE_BEAT = 1;

/** How this line's lengths fill the slots that they plainly fill, and how seldom a slot is left with a rest. */
const fillOf = (attacks: readonly Attack[], targets: ArrayLike<number>): FillModel => {
  const shares: number[] = [];
  const all: number[] = [];
  for (let i = 1; i < attacks.length; i += 1) {
    const slot = (targets[i] as number) - (targets[i - 1] as number);
    const share = (attacks[i - 1] as Attack).length / slot;
    if (slot > 0) all.push((attacks[i] as Attack).cut ? 1 : share);
    if (slot > 0 && share > 0.68 && share < 1.4) shares.push(share);
  }
  if (shares.length < 12) return FIRST_FILL;
  shares.sort((a, b) => a - b);
  const at = (q: number) => shares[Math.floor(q * (shares.length - 1))] as number;
  const low = at(0.06);
  const rests = all.filter((share) => share < low - PLAINLY_SHORT).length;
  const seldom = -Math.log((rests + RESTS_MET) / (all.length + SLOTS_MET));
  const rest = Math.max(REST.least, Math.min(REST.most, seldom + REST_BEYOND));
  return { low, high: at(0.94), rest, oddRest: rest + Math.min(OFF_THE_BEAT, rest - REST.least) };
};
