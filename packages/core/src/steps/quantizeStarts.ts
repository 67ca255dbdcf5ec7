/** Quantize starts: moves starts to a grid, found beat by beat or given. */

import type { QuantizeStartsParameters } from '../model/stepParameters.js';
import type { Swing } from '../model/swing.js';
import { attacksOf, headOf, rollsOf } from '../reading/attacks.js';
import { type AutoGrid, autoGrid, isOnGrid } from '../reading/autoGrid.js';
import type { CommonPlaces } from '../reading/commonPlaces.js';
import type { StepContext } from '../reading/context.js';
import { remarksOn, straightened, swingIn } from '../reading/gridRemarks.js';
import { GRIDS, nearestGridPoint } from '../reading/grids.js';
import { playsTwoHanded, splitHands } from '../reading/hands.js';
import { byOnset, inOrder, splitMuted } from '../reading/noteGroups.js';
import { inMilliseconds } from '../reading/noteWords.js';
import type { Remark } from '../reading/remark.js';
import { heldToNext } from '../reading/roughHand.js';
import { placed, type Staff, type StepNote } from '../reading/stepNote.js';
import { evenShare } from '../reading/swing.js';
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
  /** How long swung notes are where pairs are even. */
  readonly evenLengths?: ReadonlyMap<StepNote, number>;
  /** How long notes are that an unsteady hand held until the next start. */
  readonly held?: ReadonlyMap<StepNote, number>;
  /** Notes that stand where they do for the figures that the part plays. */
  readonly figured?: ReadonlySet<StepNote>;
  /** Where other parts begin, where places were found by that too. */
  readonly heard?: CommonPlaces | null;
}

/**
 * Targets found beat by beat; a roll goes to one place. Each hand of a keyboard has a grid of its own, so that three may
 * stand against two.
 */
const autoTargets = (
  notes: readonly StepNote[],
  context: StepContext,
  { swung, hears }: QuantizeStartsParameters,
): Targets => {
  const staves = playsTwoHanded(notes, context.instrument) ? splitHands(notes, context) : null;
  const places = new Float64Array(notes.length);
  const remarks: Remark[] = [];
  const rolled = new Set<StepNote>();
  let heard: CommonPlaces | null = null;
  const evenLengths = new Map<StepNote, number>();
  const held = new Map<StepNote, number>();
  const figured = new Set<StepNote>();
  const handOf = handsOfRolls(notes, context, staves, rolled);
  for (const staff of staves ? [1, 2] : [0]) {
    const hand = staff === 0 ? notes : notes.filter((note) => handOf(note) === staff);
    const groups = byOnset(hand);
    // Tones that stand on the grid one after another already are no roll.
    const onsets = new Float64Array(groups.length);
    for (let index = 0; index < groups.length; index += 1) onsets[index] = headOf(groups, index).onset;
    const onGrid = isOnGrid(onsets, context);
    const rolls = onGrid ? groups.map((group) => [group]) : rollsOf(groups, context);
    for (const roll of rolls) {
      if (roll.length === 1) continue;
      const tones = roll.flat();
      for (const note of tones) rolled.add(note);
      if (isHeardAsRoll(roll, context)) {
        remarks.push({ kind: 'rolled', noteIds: tones.map(({ id }) => id), reason: `a roll of ${tones.length} notes` });
      }
    }
    const attacks = attacksOf(rolls, context);
    const grid = autoGrid(attacks, context, { swings: swung !== 'triplets', hears });
    heard ??= grid.heard;
    const swing = grid.swing ? [] : swingIn(grid, attacks.length);
    const targets = swung === 'straight' ? straightened(grid.targets, swing) : grid.targets;
    if (grid.swing) for (const note of hand) evenLengths.set(note, evenLength(note, grid, grid.swing));
    else if (grid.rough) for (const [note, length] of heldToNext(rolls, targets)) held.set(note, length);
    // The notes of a hand stand in the part's order, and so do those of its rolls.
    let at = -1;
    rolls.forEach((roll, index) => {
      for (const group of roll) {
        for (const note of group) {
          do at += 1;
          while (notes[at] !== note);
          places[at] = targets[index] as number;
          if (grid.byFigures.has(index)) figured.add(note);
        }
      }
    });
    remarks.push(...remarksOn(grid, attacks, rolls, swing, context));
  }
  return { places, remarks, rolled, evenLengths, held, figured, heard };
};

/** A key that is let go so late in a beat (a share of it) was held for all of it: releases do not swing. Judged by the rows. */
const HELD_OUT = 0.76;

/** Where a note ends, later by as much as its beat is filled past what the short half of a pair leaves. */
const lateRelease = (end: number, beats: AutoGrid['beats']): number => {
  const beat = beats[lastIndexAtOrBefore(beats, end, ({ start }) => start)];
  const share = beat ? (end - beat.start) / beat.length : 0;
  if (!beat || share < HELD_OUT || share >= 1) return end;
  return beat.start + (1 - (1 - share) * 0.5) * beat.length;
};

/** How long a note would be if the pairs that it is played over were even. */
const evenLength = ({ onset, duration }: StepNote, { beats }: AutoGrid, swing: Swing): number => {
  const even = (tick: number): number => {
    const beat = beats[lastIndexAtOrBefore(beats, tick, ({ start }) => start)];
    if (!beat?.swung || tick >= beat.start + beat.length) return tick;
    return beat.start + evenShare((tick - beat.start) / beat.length, swing) * beat.length;
  };
  const unwarped = Math.round(even(lateRelease(onset + duration, beats)) - even(onset));
  // Of a long note the share that it sounds for tells more than where in a pair it stops.
  return Math.max(1, duration > SHARE_TELLS * (beats[0]?.length ?? duration) ? Math.max(duration, unwarped) : unwarped);
};
/** From so many beats on. */
const SHARE_TELLS = 1.5;

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
    swung: 'asPlayed',
    hears: true,
    lengths: 'keep',
  },
  fields: {
    grid: { kind: 'choice', label: 'Grid', choices: GRIDS.map(({ grid, name }) => ({ value: grid, label: name })) },
    strength: { kind: 'number', label: 'Strength', min: 0, max: 100, unit: '%' },
    swing: { kind: 'number', label: 'Swing', min: 50, max: 75, unit: '%' },
    swung: {
      kind: 'choice',
      label: 'Swung pairs',
      choices: [
        { value: 'asPlayed', label: 'straight with a swing mark, where so played' },
        { value: 'straight', label: 'straight with a swing mark, drawn triplets too' },
        { value: 'triplets', label: 'as triplets' },
      ],
    },
    hears: { kind: 'switch', label: 'Unsteady hand: hear the others', later: true },
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
        ? autoTargets(active, context, parameters)
        : fixedTargets(active, context, parameters.grid, parameters.swing);
    const { heard = null } = targets;
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
    // So are the same few distances said again and again.
    const saidOf = new Map<number, string>();
    const earlyOrLate = (shift: number, onset: number): string => {
      const time = Math.round(Math.abs(shift) / context.tempoMap.ticksPerMillisecond(onset));
      // Less than one is said, too, and which way.
      const key = Math.sign(shift) * (time || 0.5);
      let said = saidOf.get(key);
      if (said === undefined) {
        said = `${inMilliseconds(shift, onset, context)} ${shift > 0 ? 'early' : 'late'} for `;
        saidOf.set(key, said);
      }
      return said;
    };
    const whyThere = (note: StepNote, target: number): string =>
      targets.figured?.has(note) ? AS_IT_PLAYS : asOthers(heard?.partsAt(target) ?? 0);
    active.forEach((note, index) => {
      const { onset } = note;
      const wanted = targets.places[index] as number;
      const target = Math.max(0, Math.round(onset + ((wanted - onset) * parameters.strength) / 100));
      const shift = target - onset;
      if (
        (shift === 0 && parameters.lengths !== 'both' && !targets.evenLengths?.has(note) && !targets.held?.has(note)) ||
        staysPut(Math.abs(wanted - onset), onset, context, parameters)
      ) {
        result.push(note);
        return;
      }
      const keepsEnd = targets.rolled?.has(note) && parameters.lengths === 'keep';
      const length = lengthAfter(
        evened(note, targets, parameters),
        target,
        context,
        keepsEnd ? { ...parameters, lengths: 'end' } : parameters,
      );
      if (shift === 0 && length === note.duration) {
        result.push(note);
        return;
      }
      const to = placed(note, target, length);
      const heldOn = targets.held?.has(note);
      const reason =
        shift === 0
          ? heldOn
            ? HELD_ON
            : 'its end goes to the grid'
          : `${earlyOrLate(shift, onset)}${nameOf(target)}${whyThere(note, target)}${heldOn ? `, ${HELD_ON}` : ''}`;
      changes.push({ noteId: note.id, from: note, to, reason });
      result.push(to);
    });
    return {
      ...(changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes }),
      remarks: targets.remarks,
      ...(heard ? { heard } : {}),
    };
  },
};

/** What is said of a note that was held until the next start, and of one that stands where the part's figures have it. */
const HELD_ON = 'held until the next start';
const AS_IT_PLAYS = ', in a figure that this part often plays';

const asOthers = (parts: number): string =>
  parts === 0 ? '' : parts === 1 ? ', as in another part' : `, as in ${parts} other parts`;

/** The note with the length that it has where swung pairs are even, or where it was held until the next start, as far as the step's strength goes. */
const evened = (note: StepNote, { evenLengths, held }: Targets, { strength }: QuantizeStartsParameters): StepNote => {
  const even = evenLengths?.get(note) ?? held?.get(note);
  if (even === undefined) return note;
  return placed(note, note.onset, Math.max(1, Math.round(note.duration + ((even - note.duration) * strength) / 100)));
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
