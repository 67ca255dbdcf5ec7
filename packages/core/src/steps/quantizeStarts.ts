/** Quantize starts: moves starts to a grid, found beat by beat or given. */
import { beatsOfBars } from '../time/meterMap.js';
import { type Length, lengthInTicks } from '../time/noteLengths.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { attacksOf, rollsOf } from './attacks.js';
import { autoGrid } from './autoGrid.js';
import { byOnset, inOrder, splitMuted } from './noteGroups.js';
import { inMilliseconds } from './noteWords.js';
import { placed, type Step, type StepChange, type StepContext, type StepNote, unchanged } from './step.js';

/** A grid: found beat by beat, or a note value as a fraction of a whole note (1/8 triplet is 1/12). */
export type Grid = 'auto' | number;

/** Parameters of Quantize starts. */
export interface QuantizeStartsParameters {
  readonly grid: Grid;
  /** 0 to 100 %: how far of the way a start moves. */
  readonly strength: number;
  /** 50 to 75 %: where the second of two grid points lies; 50 is straight. Given grids only. */
  readonly swing: number;
  /** Starts no further off than this stay; null moves all. */
  readonly leaveAloneWithin: Length | null;
  /** Starts further off than this stay; null sets no limit. */
  readonly moveAtMost: Length | null;
  /** "keep": the length stays. "end": the end stays where it is. */
  readonly lengths: 'keep' | 'end';
}

/** The grid's names and values as the command line and the screens offer them. */
export const GRIDS: readonly { readonly id: string; readonly name: string; readonly grid: Grid }[] = [
  { id: 'auto', name: 'Auto, beat by beat', grid: 'auto' },
  { id: '1/4', name: 'Quarter', grid: 1 / 4 },
  { id: '1/8', name: 'Eighth', grid: 1 / 8 },
  { id: '1/16', name: 'Sixteenth', grid: 1 / 16 },
  { id: '1/32', name: 'Thirty-second', grid: 1 / 32 },
  { id: '1/8t', name: 'Eighth triplet', grid: 1 / 12 },
  { id: '1/16t', name: 'Sixteenth triplet', grid: 1 / 24 },
];

const fixedTargets = (onsets: readonly number[], context: StepContext, grid: number, swing: number): number[] => {
  const unit = grid * 4 * context.ppq;
  return onsets.map((onset) => {
    // The grid starts anew in each bar, so that it follows meters that the unit does not divide.
    const bar =
      context.bars[
        Math.max(
          0,
          lastIndexAtOrBefore(context.bars, onset, (b) => b.start),
        )
      ];
    const start = bar?.start ?? 0;
    const end = bar?.end ?? Number.POSITIVE_INFINITY;
    const pair = Math.floor((onset - start) / (2 * unit));
    const points = [0, (2 * unit * swing) / 100, 2 * unit].map((p) => Math.min(end, start + pair * 2 * unit + p));
    return points.reduce((best, point) => (Math.abs(point - onset) < Math.abs(best - onset) ? point : best));
  });
};

/** A target for each group; a roll goes to one place. */
const autoTargets = (groups: readonly StepNote[][], context: StepContext): number[] => {
  const rolls = rollsOf(groups, context);
  const { targets } = autoGrid(attacksOf(rolls), context);
  return rolls.flatMap((roll, index) => roll.map(() => targets[index] as number));
};

/** Chords move as one. At strength 100 running it twice changes nothing. */
export const quantizeStarts: Step<QuantizeStartsParameters> = {
  id: 'quantizeStarts',
  name: 'Quantize starts',
  explanation:
    'Moves starts to the grid and keeps lengths. On auto the grid is decided beat by beat, so triplets stay triplets.',
  defaults: { grid: 'auto', strength: 100, swing: 50, leaveAloneWithin: null, moveAtMost: null, lengths: 'keep' },
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const groups = byOnset(active);
    const onsets = groups.map((group) => (group[0] as StepNote).onset);
    const targets =
      parameters.grid === 'auto'
        ? autoTargets(groups, context)
        : fixedTargets(onsets, context, parameters.grid, parameters.swing);
    const changes: StepChange[] = [];
    const result: StepNote[] = [];
    groups.forEach((group, index) => {
      const onset = onsets[index] as number;
      const target = Math.max(
        0,
        Math.round(onset + (((targets[index] as number) - onset) * parameters.strength) / 100),
      );
      const shift = target - onset;
      if (shift === 0 || staysPut(Math.abs((targets[index] as number) - onset), onset, context, parameters)) {
        result.push(...group);
        return;
      }
      const reason = `${inMilliseconds(shift, onset, context)} ${shift > 0 ? 'early' : 'late'} for ${placeName(target, context)}`;
      for (const note of group) {
        const length = parameters.lengths === 'keep' ? note.duration : Math.max(1, note.duration - shift);
        const to = placed(note, target, length);
        changes.push({ noteId: note.id, from: note, to, reason });
        result.push(to);
      }
    });
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes };
  },
};

const staysPut = (off: number, onset: number, context: StepContext, parameters: QuantizeStartsParameters): boolean => {
  const perMs = context.tempoMap.ticksPerMillisecond(onset);
  const { leaveAloneWithin, moveAtMost } = parameters;
  if (leaveAloneWithin && off <= lengthInTicks(leaveAloneWithin, context.ppq, perMs)) return true;
  return moveAtMost !== null && off > lengthInTicks(moveAtMost, context.ppq, perMs);
};

/** "bar 3 beat 2" or "a place in bar 3 beat 2". */
const placeName = (tick: number, context: StepContext): string => {
  const bar =
    context.bars[
      Math.max(
        0,
        lastIndexAtOrBefore(context.bars, tick, (b) => b.start),
      )
    ];
  if (!bar) return 'the grid';
  const beats = beatsOfBars(context.bars, context.ppq);
  const at = Math.max(
    0,
    lastIndexAtOrBefore(beats, tick, (b) => b.start),
  );
  let number = 1;
  while (at - number >= 0 && (beats[at - number] as { start: number }).start >= bar.start) number += 1;
  const exact = beats[at]?.start === tick;
  return `${exact ? '' : 'its place in '}bar ${bar.number} beat ${number}`;
};
