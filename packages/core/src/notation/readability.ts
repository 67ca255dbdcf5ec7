/**
 * Readability: how many signs a player must read in each bar, weighted, as played on a grid of thirty-seconds and as
 * written. The weights are judged: a head is one; what asks for thought (a tie, a tuplet, a second voice) counts about as
 * much, what is seen at a glance less.
 */
import type { Arrangement, Part } from '../model/arrangement.js';
import { PLAN_VERSION, type Plan } from '../model/plan.js';
import { runPlan } from '../plan/runPlan.js';
import type { Written } from '../plan/written.js';
import type { WrittenMaps } from '../plan/writtenMaps.js';
import { quantizeEnds } from '../steps/quantizeEnds.js';
import { quantizeStarts } from '../steps/quantizeStarts.js';
import { buildScore, type ScoreOptions } from './buildScore.js';
import type { PitchReading } from './pitchReading.js';
import type { ScoreBar } from './score.js';

/** What is counted in a bar, with its weight and its name. */
const SIGNS = {
  heads: { weight: 1, one: 'notehead', many: 'noteheads' },
  rests: { weight: 0.8, one: 'rest', many: 'rests' },
  ties: { weight: 1, one: 'tie', many: 'ties' },
  dots: { weight: 0.4, one: 'dot', many: 'dots' },
  accidentals: { weight: 0.6, one: 'accidental', many: 'accidentals' },
  tuplets: { weight: 1.2, one: 'tuplet', many: 'tuplets' },
  short: { weight: 0.5, one: 'value shorter than a sixteenth', many: 'values shorter than a sixteenth' },
  voices: { weight: 1.5, one: 'voice more than one', many: 'voices more than one' },
} as const;

/** The name of a kind of sign. */
export type SignKind = keyof typeof SIGNS;

/** How often each kind of sign stands in a bar. */
export type SignCounts = { readonly [kind in SignKind]: number };

/** Counts the signs of a bar; a bar of rest has one. */
export const signsOf = ({ events }: Pick<ScoreBar, 'events'>): SignCounts => {
  const drawn = events.filter(({ kind }) => kind !== 'gap');
  const heads = drawn.flatMap(({ notes }) => notes);
  const byStaff = new Map<number, Set<number>>();
  for (const { staff, voice } of drawn) byStaff.set(staff, (byStaff.get(staff) ?? new Set()).add(voice));
  const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);
  return {
    heads: heads.length,
    rests: drawn.filter(({ kind }) => kind === 'rest').length,
    ties: heads.filter(({ tiedTo }) => tiedTo).length,
    dots: sum(drawn.map(({ value, wholeBar }) => (wholeBar ? 0 : value.dots))),
    accidentals: heads.filter(({ accidental }) => accidental !== null).length,
    tuplets: drawn.filter(({ tuplet }) => tuplet === 'start' || tuplet === 'both').length,
    short: drawn.filter(({ value, wholeBar }) => !wholeBar && value.denominator > 16).length,
    voices: sum([...byStaff.values()].map((voices) => voices.size - 1)),
  };
};

const KINDS = Object.keys(SIGNS) as SignKind[];

/** The signs of a bar as one number. */
export const weightOf = (counts: SignCounts): number =>
  KINDS.reduce((total, kind) => total + counts[kind] * SIGNS[kind].weight, 0);

/** What makes a bar hard to read, the heaviest first; heads are what it is for. */
const hardIn = (counts: SignCounts): string => {
  const weigh = (kind: SignKind) => counts[kind] * SIGNS[kind].weight;
  return KINDS.filter((kind) => kind !== 'heads' && counts[kind] > 0)
    .sort((a, b) => weigh(b) - weigh(a))
    .slice(0, 2)
    .map((kind) => `${counts[kind]} ${counts[kind] === 1 ? SIGNS[kind].one : SIGNS[kind].many}`)
    .join(', ');
};

/** A bar of a part. */
export interface BarReadability {
  readonly bar: number;
  /** Weighted signs as played on a grid of thirty-seconds; null where that has no such bar. */
  readonly before: number | null;
  readonly after: number;
  /** What makes it hard, in words; empty where there are only heads. */
  readonly hard: string;
}

/** Played as it is, on a grid of thirty-seconds. */
const AS_PLAYED: Plan = {
  version: PLAN_VERSION,
  name: 'As played, in thirty-seconds',
  steps: [
    { step: 'quantizeStarts', on: true, parameters: { ...quantizeStarts.defaults, grid: 1 / 32 } },
    { step: 'quantizeEnds', on: true, parameters: { ...quantizeEnds.defaults, grid: 1 / 32 } },
  ],
  passages: [],
};

/** The signs of each bar of a layer, which takes its place among all. */
export const barsWith = (
  arrangement: Arrangement,
  layer: Written,
  all: readonly Written[],
  maps: WrittenMaps,
  reading: PitchReading,
  only: Pick<ScoreOptions, 'firstBar' | 'lastBar'> = {},
): ReadonlyMap<number, SignCounts> => {
  const layers = all.map((other) => (other.partId === layer.partId ? layer : other));
  const [part] = buildScore(arrangement, layers, maps, reading, { ...only, partIds: [layer.partId] }).parts;
  return new Map((part?.bars ?? []).map((bar) => [bar.number, signsOf(bar)]));
};

/** The readability of a part, bar by bar, before and after its plan. */
export const readabilityOf = (
  arrangement: Arrangement,
  part: Part,
  all: readonly Written[],
  maps: WrittenMaps,
  reading: PitchReading,
): readonly BarReadability[] => {
  const layer = all.find(({ partId }) => partId === part.id);
  if (!layer) return [];
  const plain = { ...part, overrides: undefined };
  const before = barsWith(arrangement, runPlan(plain, arrangement.ppq, maps, AS_PLAYED), all, maps, reading);
  const after = barsWith(arrangement, layer, all, maps, reading);
  return [...after].map(([bar, counts]) => {
    const raw = before.get(bar);
    return { bar, before: raw ? weightOf(raw) : null, after: weightOf(counts), hard: hardIn(counts) };
  });
};

/** The mean weight of the bars that have notes to read, before and after; null where there are none. */
export const meanReadability = (
  bars: readonly BarReadability[],
): { readonly before: number; readonly after: number } | null => {
  const heard = bars.filter(({ before, after }) => (before ?? 0) > 1 || after > 1);
  if (heard.length === 0) return null;
  const mean = (values: readonly number[]) =>
    Math.round((values.reduce((sum, value) => sum + value, 0) / values.length) * 10) / 10;
  return { before: mean(heard.map(({ before }) => before ?? 0)), after: mean(heard.map(({ after }) => after)) };
};

/** The hardest bars: clearly heavier than those of the part are, the heaviest first, at most so many. */
export const hardestBars = (bars: readonly BarReadability[], most: number): readonly BarReadability[] => {
  const usual = [...bars].map(({ after }) => after).sort((a, b) => a - b)[bars.length >> 1] ?? 0;
  return bars
    .filter(({ after, hard }) => hard !== '' && after > usual * HARD)
    .sort((a, b) => b.after - a.after)
    .slice(0, most);
};

/** A bar is hard from so many times the part's middle bar on. */
const HARD = 1.5;
