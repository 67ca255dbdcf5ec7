/** Quantize starts: moves starts to a grid, found beat by beat or given. */
import { barHolding, beatsOfBars } from '../time/meterMap.js';
import { type Length, lengthInTicks } from '../time/noteLengths.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { attacksOf, rollsOf } from './attacks.js';
import { autoGrid } from './autoGrid.js';
import { GRIDS, type Grid, nearestGridPoint } from './grids.js';
import { playsTwoHanded, splitHands } from './hands.js';
import { byOnset, inOrder, splitMuted } from './noteGroups.js';
import { inMilliseconds } from './noteWords.js';
import { placed, type Step, type StepChange, type StepContext, type StepNote, unchanged } from './step.js';

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

const fixedTargets = (
  notes: readonly StepNote[],
  context: StepContext,
  grid: number,
  swing: number,
): Map<number, number> => {
  const unit = grid * 4 * context.ppq;
  const targets = new Map<number, number>();
  for (const { id, onset } of notes) targets.set(id, nearestGridPoint(onset, context, unit, swing));
  return targets;
};

/**
 * A target for each note, by id; a roll goes to one place. Each hand of a keyboard has a grid of its own, so that three
 * may stand against two.
 */
const autoTargets = (notes: readonly StepNote[], context: StepContext): Map<number, number> => {
  const staves = playsTwoHanded(notes, context.instrument) ? splitHands(notes, context) : null;
  const hands = staves ? [1, 2].map((staff) => notes.filter((note) => staves.get(note.id) === staff)) : [notes];
  const targets = new Map<number, number>();
  for (const hand of hands) {
    const rolls = rollsOf(byOnset(hand), context);
    const grid = autoGrid(attacksOf(rolls), context);
    rolls.forEach((roll, index) => {
      for (const note of roll.flat()) targets.set(note.id, grid.targets[index] as number);
    });
  }
  return targets;
};

/** Chords move as one. At strength 100 running it twice changes nothing. */
export const quantizeStarts: Step<QuantizeStartsParameters> = {
  id: 'quantizeStarts',
  name: 'Quantize starts',
  explanation:
    'Moves starts to the grid and keeps lengths. On auto the grid is decided beat by beat, so triplets stay triplets.',
  defaults: { grid: 'auto', strength: 100, swing: 50, leaveAloneWithin: null, moveAtMost: null, lengths: 'keep' },
  fields: {
    grid: { kind: 'choice', label: 'Grid', choices: GRIDS.map(({ grid, name }) => ({ value: grid, label: name })) },
    strength: { kind: 'number', label: 'Strength', min: 0, max: 100, unit: '%' },
    swing: { kind: 'number', label: 'Swing', min: 50, max: 75, unit: '%' },
    leaveAloneWithin: { kind: 'length', label: 'Leave alone within', none: 'nothing' },
    moveAtMost: { kind: 'length', label: 'Move at most', none: 'any way' },
    lengths: {
      kind: 'choice',
      label: 'Lengths',
      choices: [
        { value: 'keep', label: 'stay' },
        { value: 'end', label: 'ends stay' },
      ],
    },
  },
  once: true,
  sees: 'part',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const targets =
      parameters.grid === 'auto'
        ? autoTargets(active, context)
        : fixedTargets(active, context, parameters.grid, parameters.swing);
    const changes: StepChange[] = [];
    const result: StepNote[] = [];
    for (const note of active) {
      const { onset } = note;
      const wanted = targets.get(note.id) as number;
      const target = Math.max(0, Math.round(onset + ((wanted - onset) * parameters.strength) / 100));
      const shift = target - onset;
      if (shift === 0 || staysPut(Math.abs(wanted - onset), onset, context, parameters)) {
        result.push(note);
        continue;
      }
      const length = parameters.lengths === 'keep' ? note.duration : Math.max(1, note.duration - shift);
      const to = placed(note, target, length);
      const reason = `${inMilliseconds(shift, onset, context)} ${shift > 0 ? 'early' : 'late'} for ${placeName(target, context)}`;
      changes.push({ noteId: note.id, from: note, to, reason });
      result.push(to);
    }
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
  const bar = barHolding(context.bars, tick);
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
