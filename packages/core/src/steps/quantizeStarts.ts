/** Quantize starts: moves starts to a grid, found beat by beat or given. */

import { isUnpitched } from '../instruments/instruments.js';
import type { QuantizeStartsParameters } from '../model/stepParameters.js';
import { attacksOf, headOf, rollsOf } from '../reading/attacks.js';
import { autoGrid, isOnGrid } from '../reading/autoGrid.js';
import type { StepContext } from '../reading/context.js';
import { remarksOn, straightened, swingIn } from '../reading/gridRemarks.js';
import { GRIDS, nearestGridPoint } from '../reading/grids.js';
import { playsTwoHanded, splitHands } from '../reading/hands.js';
import { byOnset, inOrder, splitMuted } from '../reading/noteGroups.js';
import { inMilliseconds } from '../reading/noteWords.js';
import type { Remark } from '../reading/remark.js';
import { placed, type Staff, type StepNote } from '../reading/stepNote.js';
import { barHolding, beatsOfBars } from '../time/meterMap.js';
import { lengthInTicks } from '../time/noteLengths.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** A start this near to half-way (in parts of the grid's unit) could have gone either way. */
const NEAR_HALFWAY = 0.15;

const fixedTargets = (notes: readonly StepNote[], context: StepContext, grid: number, swing: number): Targets => {
  const unit = grid * 4 * context.ppq;
  const places = new Float64Array(notes.length);
  const remarks: Remark[] = [];
  notes.forEach(({ id, onset }, index) => {
    const place = nearestGridPoint(onset, context, unit, swing);
    places[index] = place;
    if (Math.abs(onset - place) > unit * (0.5 - NEAR_HALFWAY)) {
      remarks.push({
        kind: 'eitherWay',
        noteIds: [id],
        reason: 'near half-way between two lines of the grid',
        others: [{ noteId: id, start: place + Math.sign(onset - place) * unit }],
      });
    }
  });
  return { places, remarks };
};

interface Targets {
  /** Where each note goes, in the notes' order. */
  readonly places: Float64Array;
  readonly remarks: readonly Remark[];
  /** Tones of rolls, whose ends stay where they are. */
  readonly rolled?: ReadonlySet<StepNote>;
}

/**
 * Targets found beat by beat; a roll goes to one place. Each hand of a keyboard has a grid of its own, so that three may
 * stand against two.
 */
const autoTargets = (notes: readonly StepNote[], context: StepContext, swung: 'triplets' | 'straight'): Targets => {
  const staves = playsTwoHanded(notes, context.instrument) ? splitHands(notes, context) : null;
  const places = new Float64Array(notes.length);
  const remarks: Remark[] = [];
  const unpitched = isUnpitched(context.instrument);
  const rolled = new Set<StepNote>();
  const handOf = handsOfRolls(notes, context, staves, rolled);
  for (const staff of staves ? [1, 2] : [0]) {
    const hand = staff === 0 ? notes : notes.filter((note) => handOf(note) === staff);
    const single = byOnset(hand).map((group) => [group]);
    // Tones that stand on the grid one after another already are no roll.
    const rolls = isOnGrid(attacksOf(single, unpitched), context) ? single : rollsOf(single.flat(), context);
    for (const roll of rolls) {
      if (roll.length === 1) continue;
      const tones = roll.flat();
      for (const note of tones) rolled.add(note);
      if (isHeardAsRoll(roll, context)) {
        remarks.push({ kind: 'rolled', noteIds: tones.map(({ id }) => id), reason: `a roll of ${tones.length} notes` });
      }
    }
    const attacks = attacksOf(rolls, unpitched);
    const grid = autoGrid(attacks, context);
    const swing = swingIn(grid, attacks.length);
    const targets = swung === 'straight' ? straightened(grid.targets, swing) : grid.targets;
    // The notes of a hand stand in the part's order, and so do those of its rolls.
    let at = -1;
    rolls.forEach((roll, index) => {
      for (const group of roll) {
        for (const note of group) {
          do at += 1;
          while (notes[at] !== note);
          places[at] = targets[index] as number;
        }
      }
    });
    remarks.push(...remarksOn(grid, attacks, rolls, swing, context));
  }
  return { places, remarks, rolled };
};

/** Shorter than this a chord is loose, and not rolled (milliseconds). */
const SHORTEST_ROLL = 70;

/** True for a roll that is written as one: tone after tone, over some time. */
const isHeardAsRoll = (roll: readonly StepNote[][], { tempoMap }: StepContext): boolean => {
  const [first, last] = [headOf(roll, 0).onset, headOf(roll, roll.length - 1).onset];
  return roll.length >= ROLLED_ACROSS && last - first >= SHORTEST_ROLL * tempoMap.ticksPerMillisecond(first);
};

/** A roll across both hands is heard by so many starts. */
const ROLLED_ACROSS = 3;

/**
 * Which hand each note's start goes by. Rolls are found before hands are told apart: one that both hands play goes by the hand
 * that begins it.
 */
const handsOfRolls = (
  notes: readonly StepNote[],
  context: StepContext,
  staves: ReadonlyMap<number, Staff> | null,
  rolled: Set<StepNote>,
): ((note: StepNote) => Staff | undefined) => {
  if (!staves) return () => undefined;
  const hands = new Map<number, Staff>();
  for (const roll of rollsOf(byOnset(notes), context)) {
    // Hands that come one after the other are two, and no roll.
    if (roll.length < ROLLED_ACROSS) continue;
    const tones = roll.flat();
    const first = staves.get((tones[0] as StepNote).id);
    for (const tone of tones) {
      rolled.add(tone);
      if (first) hands.set(tone.id, first);
    }
  }
  return ({ id }) => hands.get(id) ?? staves.get(id);
};

/** Chords move as one. At strength 100 running it twice changes nothing. */
export const quantizeStarts: Step<'quantizeStarts'> = {
  id: 'quantizeStarts',
  name: 'Quantize starts',
  explanation:
    'Moves starts to the grid and keeps lengths. On auto the grid is decided beat by beat, so triplets stay triplets.',
  defaults: {
    grid: 'auto',
    strength: 100,
    swing: 50,
    leaveAloneWithin: null,
    moveAtMost: null,
    swung: 'triplets',
    lengths: 'keep',
  },
  fields: {
    grid: { kind: 'choice', label: 'Grid', choices: GRIDS.map(({ grid, name }) => ({ value: grid, label: name })) },
    strength: { kind: 'number', label: 'Strength', min: 0, max: 100, unit: '%' },
    swing: { kind: 'number', label: 'Swing', min: 50, max: 75, unit: '%' },
    swung: {
      kind: 'choice',
      label: 'Swung eighths',
      choices: [
        { value: 'triplets', label: 'as triplets' },
        { value: 'straight', label: 'straight, with a swing mark' },
      ],
    },
    leaveAloneWithin: { kind: 'length', label: 'Leave alone within', none: 'nothing' },
    moveAtMost: { kind: 'length', label: 'Move at most', none: 'any way' },
    lengths: {
      kind: 'choice',
      label: 'Lengths',
      choices: [
        { value: 'keep', label: 'stay' },
        { value: 'end', label: 'ends stay' },
        { value: 'both', label: 'ends go to the grid too' },
      ],
    },
  },
  once: true,
  sees: 'part',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const targets =
      parameters.grid === 'auto'
        ? autoTargets(active, context, parameters.swung)
        : fixedTargets(active, context, parameters.grid, parameters.swing);
    const changes: StepChange[] = [];
    const result: StepNote[] = [];
    // Many notes go to the same few places one after another; finding the words costs more than the rest.
    let named = -1;
    let name = '';
    const nameOf = (target: number): string => {
      if (target !== named) name = placeName(target, context);
      named = target;
      return name;
    };
    active.forEach((note, index) => {
      const { onset } = note;
      const wanted = targets.places[index] as number;
      const target = Math.max(0, Math.round(onset + ((wanted - onset) * parameters.strength) / 100));
      const shift = target - onset;
      if (
        (shift === 0 && parameters.lengths !== 'both') ||
        staysPut(Math.abs(wanted - onset), onset, context, parameters)
      ) {
        result.push(note);
        return;
      }
      const keepsEnd = targets.rolled?.has(note) && parameters.lengths === 'keep';
      const length = lengthAfter(note, target, context, keepsEnd ? { ...parameters, lengths: 'end' } : parameters);
      if (shift === 0 && length === note.duration) {
        result.push(note);
        return;
      }
      const to = placed(note, target, length);
      const reason =
        shift === 0
          ? 'its end goes to the grid'
          : `${inMilliseconds(shift, onset, context)} ${shift > 0 ? 'early' : 'late'} for ${nameOf(target)}`;
      changes.push({ noteId: note.id, from: note, to, reason });
      result.push(to);
    });
    const { remarks } = targets;
    return { ...(changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes }), remarks };
  },
};

/** How long a note lasts once its start has moved to `target`. */
const lengthAfter = (
  note: StepNote,
  target: number,
  context: StepContext,
  { lengths, grid, swing }: QuantizeStartsParameters,
): number => {
  if (lengths === 'keep') return note.duration;
  const end = note.onset + note.duration;
  if (lengths === 'end') return Math.max(1, end - target);
  const unit = (grid === 'auto' ? 1 / 16 : grid) * 4 * context.ppq;
  return Math.max(Math.round(unit), Math.round(nearestGridPoint(end, context, unit, swing)) - target);
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
  const exact = beats[at]?.start === tick;
  return `${exact ? '' : 'its place in '}bar ${bar.number} beat ${beats[at]?.number ?? 1}`;
};
