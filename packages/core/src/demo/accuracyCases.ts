/** The cases by which the default plan is measured: made scores, performed with a known hand, against what comes back. */

import { instrumentById, isUnpitched } from '../instruments/instruments.js';
import type { Plan } from '../model/plan.js';
import { planOf } from '../plan/readyPlans.js';
import { runPlan } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import type { Meter } from '../time/meterMap.js';
import { WRITTEN_PPQ } from '../time/units.js';
import { type Accuracy, accuracyOf } from './accuracy.js';
import { MADE_STYLES, type MadeKind, type MadeRecipe, madeScore } from './madeScore.js';
import { type Performance, perform } from './performer.js';

/** One row of the report. */
export interface AccuracyCase {
  readonly name: string;
  readonly kinds: readonly MadeKind[];
  readonly pedal: boolean;
  readonly performance: Omit<Performance, 'seed' | 'ppq'>;
  /** Least note F1, exact durations and exact bars asked of the default plan. */
  readonly required: readonly [number, number, number];
}

const hand = (more: Partial<AccuracyCase['performance']>): AccuracyCase['performance'] => ({
  spread: 15,
  lengths: [0.78, 1.05],
  doubles: 0.04,
  specks: 0.02,
  ...more,
});

const lines = (
  name: string,
  required: AccuracyCase['required'],
  more: Partial<AccuracyCase['performance']>,
): AccuracyCase => ({ name, kinds: ['line', 'line', 'chords'], pedal: false, performance: hand(more), required });

/** All rows, in the order of the report. */
export const ACCURACY_CASES: readonly AccuracyCase[] = [
  lines('no human touch, no litter', [1, 1, 1], { spread: 0, lengths: [1, 1], doubles: 0, specks: 0 }),
  lines('lines, 15 ms spread', [0.998, 0.99, 0.98], { spread: 15 }),
  lines('lines, 25 ms', [0.99, 0.98, 0.95], { spread: 25 }),
  lines('lines, 35 ms', [0.96, 0.94, 0.85], { spread: 35 }),
  lines('lines, 12 ms, 30 ms late throughout', [0.995, 0.99, 0.97], { spread: 12, lean: 30 }),
  lines('lines, 10 ms, drift 40 ms', [0.97, 0.96, 0.92], { spread: 10, drift: 40 }),
  {
    name: 'keyboard, 15 ms, no pedal',
    kinds: ['keyboard'],
    pedal: false,
    performance: hand({ rolled: 0.1 }),
    required: [0.99, 0.92, 0.65],
  },
  {
    name: 'keyboard, 15 ms, pedal',
    kinds: ['keyboard'],
    pedal: true,
    performance: hand({ rolled: 0.1 }),
    required: [0.998, 0.98, 0.85],
  },
  {
    name: 'percussion, 12 ms',
    kinds: ['percussion'],
    pedal: false,
    performance: hand({ spread: 12 }),
    required: [0.999, 0, 0],
  },
];

const METERS: readonly Meter[] = [
  { numerator: 4, denominator: 4 },
  { numerator: 3, denominator: 4 },
  { numerator: 6, denominator: 8 },
  { numerator: 2, denominator: 2 },
  { numerator: 5, denominator: 8 },
];

/** The `index`-th made score of a case and its performance; every meter meets every style within 25 of them. */
export const recipeOf = (row: AccuracyCase, seed: number, index: number): MadeRecipe => ({
  seed: seed * 1000 + index,
  kind: row.kinds[index % row.kinds.length] as MadeKind,
  style: MADE_STYLES[Math.floor(index / METERS.length) % MADE_STYLES.length] as MadeRecipe['style'],
  meter: METERS[index % METERS.length] as Meter,
  bars: 24,
  quartersPerMinute: 84 + ((index * 37) % 45),
  pedal: row.pedal,
});

/** What one made score gave. */
export interface Measured {
  readonly recipe: MadeRecipe;
  readonly plan: Accuracy;
  readonly byHand: Accuracy;
  /** Real notes that no Written note comes from. */
  readonly lost: number;
  readonly notes: number;
}

/** Snapping both ends of every note to sixteenths: what is done today by hand. */
const snapBothEnds = (notes: readonly { pitch: number; onset: number; duration: number }[], ppq: number) => {
  const unit = WRITTEN_PPQ / 4;
  const snap = (tick: number) => Math.round((tick * 4) / ppq) * unit;
  return notes.map((note) => ({
    pitch: note.pitch,
    onset: snap(note.onset),
    duration: Math.max(unit, snap(note.onset + note.duration) - snap(note.onset)),
  }));
};

/** Performs one made score, runs a plan over it and compares. */
export const measure = (row: AccuracyCase, seed: number, index: number, plan?: Plan): Measured => {
  const recipe = recipeOf(row, seed, index);
  const score = madeScore(recipe);
  const arrangement = perform(score, { ...row.performance, seed: seed * 77 + index, ppq: 480 });
  const part = arrangement.parts[0];
  const composed = score.parts[0]?.notes ?? [];
  if (!part) throw new Error('A made score has one part.');
  const maps = writtenMaps(arrangement);
  const written = runPlan(part, arrangement.ppq, maps, plan ?? planOf(part));
  const startsOnly = isUnpitched(instrumentById(part.instrument));
  const accuracy = accuracyOf(composed, written.notes, maps.bars, startsOnly);
  return {
    recipe,
    plan: accuracy,
    byHand: accuracyOf(composed, snapBothEnds(part.notes, arrangement.ppq) as never, maps.bars, startsOnly),
    lost: Math.max(0, composed.length - written.notes.length),
    notes: composed.length,
  };
};
