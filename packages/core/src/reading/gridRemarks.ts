/** What the auto grid saw that a person should know: doubtful beats, starts far off, starts near half-way, swing. */

import type { NoteId } from '../model/arrangement.js';
import { barHolding } from '../time/meterMap.js';
import type { AutoGrid, GriddedBeat } from './autoGrid.js';
import type { StepContext } from './context.js';
import type { Attack } from './gridModel.js';
import { inMilliseconds } from './noteWords.js';
import type { Remark } from './remark.js';
import type { StepNote } from './stepNote.js';

/** Beats whose best other reading is dearer by less than this (natural logarithm of odds, about seven to one) are doubtful. */
const DOUBTFUL = 2;
/** A start is far off from so many standard deviations, and from so many milliseconds, on. */
const FAR_DEVIATIONS = 3.2;
/** Nearer than this a start is merely human, however steady the others are (milliseconds). */
const FAR_MILLISECONDS = 45;
/** In parts of the division's step: this far from its point a start is near half-way. */
const NEAR_HALFWAY = 0.36;
/**
 * …which is told where its beat's best other reading is dearer by less than this; beyond, one such start in 45 stands
 * elsewhere (counted on lines of 25 to 60 ms).
 */
const SURE = 6;
/** Swing is a run of at least so many swung beats… */
const LEAST_SWUNG = 4;
/** …that are this share of the beats that divide in three at all. */
const MOSTLY_SWUNG = 0.75;

/** An attack on the last third of a beat whose second third is empty: its index, and where it would stand straight. */
interface SwungAttack {
  readonly index: number;
  readonly straight: number;
}

/** Swung eighths: beats with starts on their first and last thirds alone, where most triplets of the part are such. */
export const swingIn = (grid: AutoGrid, count: number): readonly SwungAttack[] => {
  const swung: SwungAttack[] = [];
  let triplets = 0;
  let index = 0;
  for (const beat of grid.beats) {
    const end = beat.start + beat.length - 1e-6;
    while (index < count && (grid.targets[index] as number) < beat.start - 1e-6) index += 1;
    const first = index;
    while (index < count && (grid.targets[index] as number) < end) index += 1;
    if (beat.division !== 3 && beat.division !== 6) continue;
    const thirds = Array.from(
      { length: index - first },
      (_, k) => (((grid.targets[first + k] as number) - beat.start) * 3) / beat.length,
    );
    const last = thirds[thirds.length - 1] ?? 0;
    if (!thirds.some((third) => third > 0.1)) continue;
    triplets += 1;
    const plain = thirds.every((third) => third < 0.1 || Math.abs(third - 2) < 0.1);
    if (plain && Math.abs(last - 2) < 0.1) swung.push({ index: index - 1, straight: beat.start + beat.length / 2 });
  }
  return swung.length >= LEAST_SWUNG && swung.length >= triplets * MOSTLY_SWUNG ? swung : [];
};

/** Targets with swung starts moved to the middle of their beats. */
export const straightened = (targets: ArrayLike<number>, swing: readonly SwungAttack[]): number[] => {
  const result = Array.from(targets);
  for (const { index, straight } of swing) result[index] = straight;
  return result;
};

/** Remarks on a reading; `rolls` are the notes of each attack. */
export const remarksOn = (
  grid: AutoGrid,
  attacks: readonly Attack[],
  rolls: readonly StepNote[][][],
  swing: readonly SwungAttack[],
  context: StepContext,
): Remark[] => {
  const remarks: Remark[] = [];
  const idsOf = (index: number) => (rolls[index] ?? []).flat().map((note) => note.id);
  let index = 0;
  for (const beat of grid.beats) {
    const first = index;
    while (index < attacks.length && (grid.targets[index] as number) < beat.start + beat.length - 1e-6) index += 1;
    if (index === first || beat.division === 0) continue;
    if (beat.margin < DOUBTFUL) {
      const inside = Array.from({ length: index - first }, (_, k) => first + k);
      const others = inside.flatMap((at, k) => {
        const start = beat.others?.[k];
        return start === undefined || Math.abs(start - (grid.targets[at] as number)) < 1e-6
          ? []
          : idsOf(at).map((noteId) => ({ noteId, start }));
      });
      const reason = doubtInWords(beat.start, context);
      remarks.push({ kind: 'doubtfulGrid', noteIds: inside.flatMap(idsOf), reason, others });
      continue;
    }
    for (let at = first; at < index; at += 1) {
      const remark = remarkOnStart(grid, at, attacks[at] as Attack, idsOf, beat, context);
      if (remark) remarks.push(remark);
    }
  }
  remarks.push(...swungRemarks(grid, attacks.length, idsOf));
  if (swing.length > 0) {
    remarks.push({
      kind: 'swing',
      noteIds: swing.flatMap(({ index: at }) => idsOf(at)),
      reason: `${swing.length} beats are long and short, two thirds and one: they can be written straight, with a swing mark`,
      swing: { percent: 200 / 3, pair: 'eighths' },
    });
  }
  return remarks;
};

/** One for each passage that is swung. A single beat that differs from those around it is put down to the hand. */
const swungRemarks = (
  { swing, beats, targets, played }: AutoGrid,
  count: number,
  idsOf: (index: number) => readonly NoteId[],
): Remark[] => {
  if (!swing) return [];
  const percent = Math.round(swing.percent);
  const reason = `${swing.pair} are played long and short, ${percent} to ${100 - percent}: written straight, with a swing mark`;
  const told = beats.filter(({ pairs }) => pairs !== null);
  const passages: { readonly noteIds: NoteId[]; readonly end: number; readonly evenFrom?: number }[] = [];
  let inside: number | null = null;
  told.forEach(({ pairs, start }, index) => {
    const alone = told[index + 1] ? told[index + 1]?.pairs !== pairs : told[index - 1]?.pairs !== pairs;
    if (pairs === 'swung' && inside === null && !alone) inside = start;
    if (pairs !== 'even' || inside === null || alone) return;
    passages.push({ noteIds: [], end: start, evenFrom: start });
    inside = null;
  });
  if (inside !== null) passages.push({ noteIds: [], end: Number.POSITIVE_INFINITY });
  let at = 0;
  for (let index = 0; index < count; index += 1) {
    const target = targets[index] as number;
    while (at < passages.length - 1 && target >= (passages[at]?.end ?? 0)) at += 1;
    if (Math.abs(target - (played[index] as number)) > 1e-6) passages[at]?.noteIds.push(...idsOf(index));
  }
  return passages
    .filter(({ noteIds }) => noteIds.length > 0)
    .map(({ noteIds, evenFrom }) => ({
      kind: 'swung',
      noteIds,
      reason,
      swing: evenFrom === undefined ? swing : { ...swing, evenFrom },
    }));
};

const doubtInWords = (start: number, context: StepContext): string => {
  const bar = barHolding(context.bars, start);
  return `bar ${bar?.number ?? 1} can be read in more than one way`;
};

const remarkOnStart = (
  { timing, targets, played }: AutoGrid,
  index: number,
  attack: Attack,
  idsOf: (index: number) => readonly NoteId[],
  beat: GriddedBeat,
  context: StepContext,
): Remark | null => {
  const target = played[index] as number;
  const perMs = context.tempoMap.ticksPerMillisecond(target);
  const off = attack.onset - target - timing.lean * perMs;
  const late = attack.last > attack.onset ? 0 : Math.abs(off) / perMs;
  const usual = Math.hypot(timing.spread, timing.drift);
  if (late > FAR_MILLISECONDS && late > usual * FAR_DEVIATIONS) {
    return {
      kind: 'farOff',
      noteIds: idsOf(index),
      reason: `${inMilliseconds(off, target, context)} ${off > 0 ? 'late' : 'early'}, far more than the rest`,
    };
  }
  const step = beat.length / beat.division;
  if (Math.abs(off) > step * NEAR_HALFWAY && timing.spread > 0 && beat.margin < SURE) {
    return {
      kind: 'eitherWay',
      noteIds: idsOf(index),
      reason: 'near half-way between two lines of the grid',
      others: idsOf(index).map((noteId) => ({ noteId, start: (targets[index] as number) + Math.sign(off) * step })),
    };
  }
  return null;
};
