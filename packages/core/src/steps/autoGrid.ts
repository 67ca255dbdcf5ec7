/**
 * Auto grid: decides the division of each beat from the starts in it, and learns from the part how late, how unsteady and
 * how drifting its player is. The published ground: Cemgil, Desain and Kappen, "Rhythm quantization for transcription",
 * Computer Music Journal 24:2 (2000), and Raphael, "A hybrid graphical model for rhythmic parsing", Artificial
 * Intelligence 137 (2002).
 */
import { beatsOfBars } from '../time/meterMap.js';
import {
  type Attack,
  COMPOUND_BEAT,
  type Division,
  type FillModel,
  gainsOf,
  learnt,
  SIMPLE_BEAT,
  type TimingModel,
} from './gridModel.js';
import { type BeatAttacks, type Reading, searchGrid } from './gridSearch.js';
import type { StepContext } from './step.js';

/** A beat and the division chosen for it. */
export interface GriddedBeat {
  readonly start: number;
  readonly length: number;
  /** How many parts; 0 where nothing starts. */
  readonly division: number;
  /** How much dearer the best other placing of its starts is; below 1 it is doubtful. Infinite where nothing starts. */
  readonly margin: number;
}

/** Where each attack goes, and why. */
export interface AutoGrid {
  /** One target for each attack, in the same order; ticks of the context's PPQ, not rounded. */
  readonly targets: ArrayLike<number>;
  readonly beats: readonly GriddedBeat[];
  readonly timing: TimingModel;
}

/** A first guess that fits a steady player and a drifting one. */
const FIRST_GUESS: TimingModel = { lean: 0, spread: 16, drift: 14 };
const LEAST_SPREAD = 6;
const MOST_SPREAD = 48;
const PASSES = 2;

/** Finds targets for attacks (rising, in ticks). A part whose starts all stand on a grid already is left as it is. */
export const autoGrid = (attacks: readonly Attack[], context: StepContext): AutoGrid => {
  const exact = alreadyOnGrid(attacks, context);
  if (exact) {
    return { targets: attacks.map((a) => a.onset), beats: exact, timing: { lean: 0, spread: 0, drift: 0 } };
  }
  const perMs = Float64Array.from(attacks, (a) => context.tempoMap.ticksPerMillisecond(a.onset));
  const times = Float64Array.from(attacks, (a) => context.tempoMap.secondsAt(a.onset));
  let timing = FIRST_GUESS;
  let fill: FillModel | null = null;
  let shift: Float64Array = new Float64Array(attacks.length);
  let counts: ReadonlyMap<string, number> | null = null;
  let beats: BeatAttacks[] = [];
  let reading: Reading | undefined;
  for (let pass = 0; pass <= PASSES; pass += 1) {
    beats = beatsWith(attacks, shift, context, counts);
    const lean = perMs.map((ticks) => timing.lean * ticks);
    reading = searchGrid({
      attacks,
      beats,
      gains: gainsOf(times, perMs, timing),
      lean,
      fill,
      sharing: sharingFor(attacks, perMs),
    });
    if (pass === PASSES) break;
    const { targets, drift } = reading;
    timing = timingOf(attacks.map((attack, i) => (attack.onset - (targets[i] as number)) / (perMs[i] as number)));
    fill = fillOf(attacks, targets);
    const late = timing.lean;
    shift = drift.map((ticks, i) => ticks + late * (perMs[i] as number));
    counts = countsOf(beats, reading);
  }
  const { targets, divisions, margins } = reading as Reading;
  return {
    targets,
    beats: beats.map(({ start, length }, i) => ({
      start,
      length,
      division: divisions[i] as number,
      margin: margins[i] as number,
    })),
    timing,
  };
};

/**
 * The grid of a part in which every start lies exactly on a division of its beat (drawn, or quantized before): there is
 * nothing to estimate, and what is fine there is meant. Null for any other part.
 */
const alreadyOnGrid = (attacks: readonly Attack[], context: StepContext): GriddedBeat[] | null => {
  const gridded: GriddedBeat[] = [];
  for (const beat of beatsWith(attacks, null, context, null)) {
    const inside = attacks.slice(beat.first, beat.first + beat.count);
    const fits = [...beat.divisions]
      .sort((a, b) => a.points - b.points)
      .find(({ points }) =>
        inside.every(({ onset }) => {
          const place = ((onset - beat.start) * points) / beat.length;
          return Math.abs(place - Math.round(place)) * beat.length < points * 0.5;
        }),
      );
    if (!fits) return null;
    gridded.push({
      start: beat.start,
      length: beat.length,
      division: beat.count === 0 ? 0 : fits.points,
      margin: Number.POSITIVE_INFINITY,
    });
  }
  return gridded;
};

const kindOf = (compound: boolean): string => (compound ? 'compound' : 'simple');

/** Deals the attacks out to beats, by where they would be without `shift`. */
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

/** Attacks nearer than this are played as one (milliseconds); further apart, sharing a point costs more and more. */
const ONE_ATTACK = 45;
const LINE_SHARES = 12;

/** In a part that plays chords near attacks may be one; in a line two notes never are. */
const sharingFor = (attacks: readonly Attack[], perMs: Float64Array) => {
  const line = overlapShare(attacks) < LINE_OVERLAPS;
  return (gap: number, index: number): number => {
    const milliseconds = gap / (perMs[index] as number);
    return line ? LINE_SHARES : Math.min(LINE_SHARES, 0.5 + (milliseconds / ONE_ATTACK) ** 2);
  };
};

const LINE_OVERLAPS = 0.2;

/** Share of attacks that sound well into the next one. */
const overlapShare = (attacks: readonly Attack[]): number => {
  let overlapping = 0;
  for (let i = 1; i < attacks.length; i += 1) {
    const before = attacks[i - 1] as Attack;
    const slot = (attacks[i] as Attack).onset - before.onset;
    if (before.length > slot * 1.4) overlapping += 1;
  }
  return overlapping / Math.max(1, attacks.length - 1);
};

/** Robust estimates from residuals in milliseconds; few notes are trusted little. Drift shows in how neighbours agree. */
const timingOf = (residuals: readonly number[]): TimingModel => {
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
  const guess = FIRST_GUESS.spread;
  return {
    lean: middle * trust,
    spread: Math.min(MOST_SPREAD, Math.max(LEAST_SPREAD, spread * trust + guess * (1 - trust))),
    drift: Math.sqrt(driftVariance),
  };
};

/** How this part's lengths fill the slots that they plainly fill; null where it is no line or too short to tell. */
const fillOf = (attacks: readonly Attack[], targets: ArrayLike<number>): FillModel | null => {
  if (overlapShare(attacks) >= LINE_OVERLAPS) return null;
  const shares: number[] = [];
  for (let i = 1; i < attacks.length; i += 1) {
    const slot = (targets[i] as number) - (targets[i - 1] as number);
    const share = (attacks[i - 1] as Attack).length / slot;
    if (slot > 0 && share > 0.68 && share < 1.4) shares.push(share);
  }
  if (shares.length < 12) return null;
  shares.sort((a, b) => a - b);
  const at = (q: number) => shares[Math.floor(q * (shares.length - 1))] as number;
  return { low: at(0.06), high: at(0.94) };
};
