/** Settle lengths: chooses the written end of each chord, the simplest to read within what was played. */

import { isUnpitched } from '../instruments/instruments.js';
import { endOf } from '../model/arrangement.js';
import type { StepContext } from '../reading/context.js';
import { heldOut } from '../reading/heldOut.js';
import { byVoice, inOrder, splitMuted } from '../reading/noteGroups.js';
import type { Remark } from '../reading/remark.js';
import {
  type ChosenEnd,
  completesPickup,
  fillsAsPlayed,
  laidOut,
  pickupOfPart,
  readingsOf,
  type Slot,
  settledEnd,
  shortEnd,
  strokeEnd,
  usualShare,
} from '../reading/settledEnds.js';
import { staccatoShares } from '../reading/staccato.js';
import { type StepNote, settledAt, signed } from '../reading/stepNote.js';
import { fingerCosts, isQuick } from '../reading/underPedal.js';
import { exactEnds, isUntouched } from '../reading/untouched.js';
import { WRITTEN_PPQ } from '../time/units.js';
import type { Step, StepChange, StepResult } from './step.js';

/** A note in a passage of short ones has a dot where it sounds for less than this share of its value. */
const STILL_SHORT = 0.6;

const wordsFor = (from: StepNote, to: StepNote, next: number | null, completes: boolean): string => {
  if (to.signs?.marks?.includes('tenuto')) return 'held for all of its value where those about it are not: a tenuto';
  if (to.staccato) return 'played short: a plain value with a staccato dot';
  if (next !== null && endOf(to) === next) return 'fills most of the way to the next note';
  if (completes) return 'ends so that the last bar completes the pickup';
  if (from.soundsTo !== undefined && !from.lengthened) return 'under the pedal, its key was let go as for this value';
  return endOf(to) > endOf(from)
    ? 'lengthened to the nearest readable value'
    : 'shortened to the nearest readable value';
};

/** Chord tones settle together. See {@link SettleParameters}. */
export const settleLengths: Step<'settleLengths'> = {
  id: 'settleLengths',
  name: 'Settle lengths',
  explanation: 'Gives each note or chord the simplest written length within what was played. Starts stay.',
  defaults: { fills: 60, staccato: true, tenuto: true },
  fields: {
    fills: { kind: 'number', label: 'Lasts until the next where it fills', min: 30, max: 100, unit: '%' },
    staccato: { kind: 'switch', label: 'Staccato dots for short notes' },
    tenuto: { kind: 'switch', label: 'Tenuto for notes held out among others', later: true },
  },
  once: true,
  sees: 'part',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const unpitched = isUnpitched(context.instrument);
    if (!unpitched && isUntouched(active, context)) return asSaid(active, muted, context);
    const pickup = unpitched ? 0 : pickupOfPart(active, context);
    const voices = byVoice(active).map((list, voice) => laidOut(list, context, voice, pickup));
    const shares: number[] = [];
    const quick: number[] = [];
    const shortIn = voices.map(({ slots }) => (parameters.staccato && !unpitched ? staccatoShares(slots) : []));
    voices.forEach(({ slots }, voice) => {
      slots.forEach((slot, index) => {
        const { onset, next, sounding } = slot;
        if (next === null || next - onset > WRITTEN_PPQ) return;
        shares.push(sounding / (next - onset));
        if (isQuick(slot) && !shortIn[voice]?.[index]) quick.push(sounding / (next - onset));
      });
    });
    const fills = fillsAsPlayed(quick, parameters.fills / 100);
    const usual = usualShare(shares, fills);
    const fingers = fingerCosts(
      voices.map(({ slots }) => slots),
      (slot) => readingsOf(slot, voices[slot.voice]?.bars ?? [], usual, fills),
    );
    const changes: StepChange[] = [];
    const remarks: Remark[] = [];
    const result: StepNote[] = [];
    voices.forEach(({ groups, slots, bars }, voice) => {
      const short = shortIn[voice] ?? [];
      const tenutos = parameters.tenuto && !unpitched ? heldOut(slots, short) : [];
      groups.forEach((group, index) => {
        const slot = slots[index] as Slot;
        const share = short[index] ?? 0;
        const chosen = unpitched
          ? strokeEnd(slot, bars, context)
          : share > 0
            ? shortEnd(slot, bars, share)
            : settledEnd(slot, bars, usual, fills, fingers);
        const { end } = chosen;
        if (share === 0 && chosen.margin < CLOSE_ENDS) remarks.push(...doubtOf(group, chosen, context));
        const staccato = share > 0 && slot.sounding < STILL_SHORT * (end - slot.onset);
        // What a pedal holds says nothing of the fingers.
        const tenuto =
          tenutos[index] === true && end === slot.next && group.every((note) => note.soundsTo === undefined);
        const sign = tenuto ? 'tenuto' : staccato ? 'staccato' : null;
        const completes = completesPickup(slot, bars, end);
        settleGroup(group, slot, { end, sign, completes }, context, result, changes);
      });
    });
    return { notes: inOrder(result, muted), changes, remarks };
  },
};

/** A second best end dearer by less than this is told of: it is the right one in about one of five; seldom beyond. */
const CLOSE_ENDS = 0.6;

/** A chord whose end could as well be another. */
const doubtOf = (group: readonly StepNote[], { second }: ChosenEnd, { ppq }: StepContext): Remark[] => {
  if (second === null) return [];
  const doubtful = group.filter(({ settled }) => !settled);
  if (doubtful.length === 0) return [];
  const end = Math.round((second * ppq) / WRITTEN_PPQ);
  return [
    {
      kind: 'eitherEnd',
      noteIds: doubtful.map(({ id }) => id),
      reason: 'its end was played between two values',
      others: doubtful.map(({ id }) => ({ noteId: id, end })),
    },
  ];
};

/** The lengths of a part with no human touch: what they say, to the unit. */
const asSaid = (active: readonly StepNote[], muted: readonly StepNote[], context: StepContext): StepResult => {
  const ends = exactEnds(active, context);
  const changes: StepChange[] = [];
  const result = active.map((note, index) => {
    if (note.settled) return note;
    const to = settledAt(note, Math.max(1, (ends[index] as number) - note.onset), false);
    if (to.duration !== note.duration) {
      changes.push({ noteId: note.id, from: note, to, reason: 'to the place that its coarse ticks stand for' });
    }
    return to;
  });
  return { notes: inOrder(result, muted), changes };
};

/** How a chord settles: where it ends, in written units, and what is told of it. */
interface Settling {
  readonly end: number;
  readonly sign: 'staccato' | 'tenuto' | null;
  readonly completes: boolean;
}

const settleGroup = (
  group: readonly StepNote[],
  slot: Slot,
  { end, sign, completes }: Settling,
  context: StepContext,
  result: StepNote[],
  changes: StepChange[],
): void => {
  const endTick = Math.round((end * context.ppq) / WRITTEN_PPQ);
  for (const note of group) {
    // Settled once is settled: the length now says what is written, and no longer what was played.
    if (note.settled) {
      result.push(note);
      continue;
    }
    const duration = Math.max(1, endTick - note.onset);
    if (duration === note.duration && sign === null) {
      result.push(settledAt(note, duration, false));
      continue;
    }
    const settled = settledAt(note, duration, sign === 'staccato');
    // A chord's sign stands at its first note, once.
    const to = sign === 'tenuto' && note === group[0] ? signed(settled, { marks: ['tenuto'] }) : settled;
    const next = slot.next === null ? null : Math.round((slot.next * context.ppq) / WRITTEN_PPQ);
    changes.push({ noteId: note.id, from: note, to, reason: wordsFor(note, to, next, completes) });
    result.push(to);
  }
};
