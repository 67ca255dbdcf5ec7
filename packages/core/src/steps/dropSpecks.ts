/** Drop specks: takes out notes too short to be meant. */

import { endOf } from '../model/arrangement.js';
import { median } from '../model/statistics.js';
import type { StepContext } from '../reading/context.js';
import { inOrder, splitMuted } from '../reading/noteGroups.js';
import { aNote, inMilliseconds } from '../reading/noteWords.js';
import { isStruckAgain, playedRoughly } from '../reading/roughHand.js';
import type { StepNote } from '../reading/stepNote.js';
import { isUntouched } from '../reading/untouched.js';
import { lengthInTicks, milliseconds, noteValue, shortestOf } from '../time/noteLengths.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** So few short notes are never a way of playing. */
const FEW = 3;
/** A brushed key starts within this of the one that was meant (milliseconds)… */
const BRUSH = 25;
/** …lies no further away (semitones), and lasts so much shorter. */
const NEXT_KEY = 2;
const SHORTER = 0.35;
/** So many notes to either side tell how loud it is there. */
const ABOUT = 6;
/** Softer than this share of them it is soft; from that share on it is a stroke like them. */
const SOFT = 0.55;
const AS_LOUD = 0.7;
/** A stroke, however short, lasts so much of what those about it last. */
const LEAST_SHARE = 0.1;
/** …if nothing cut it short: a key that is struck again so soon after it (milliseconds). */
const AT_ONCE = 40;

/** What the notes about a short one say of it: a brushed key, or a stroke of its own that was played short. */
const lookedAt = (
  notes: readonly StepNote[],
  index: number,
  context: StepContext,
  short: Uint8Array,
  usualInPart: () => number,
  rough: () => boolean,
): { readonly brushed: boolean; readonly soft: boolean; readonly stroke: boolean } => {
  const note = notes[index] as StepNote;
  const perMs = context.tempoMap.ticksPerMillisecond(note.onset);
  const near = BRUSH * perMs;
  let [brushed, alone, cutShort] = [false, true, false];
  const velocities: number[] = [];
  const lengths: number[] = [];
  for (let at = Math.max(0, index - ABOUT); at < Math.min(notes.length, index + ABOUT + 1); at += 1) {
    const other = notes[at] as StepNote;
    if (at === index || other.duration <= 0) continue;
    // Notes that may go themselves are no measure.
    if (short[at] === 0) {
      velocities.push(other.velocity);
      lengths.push(other.duration);
    }
    if (other.pitch === note.pitch && other.onset > note.onset && isStruckAgain(note, other, context) && rough()) {
      cutShort ||= other.onset - endOf(note) <= AT_ONCE * perMs;
      continue;
    }
    if (Math.abs(other.onset - note.onset) > near) continue;
    alone = false;
    const nextKey = Math.abs(other.pitch - note.pitch) <= NEXT_KEY && other.pitch !== note.pitch;
    if (nextKey && note.duration < SHORTER * other.duration) brushed = true;
  }
  const usual = median(velocities) ?? usualInPart();
  const stroke =
    alone &&
    usual > 0 &&
    note.velocity >= AS_LOUD * usual &&
    (cutShort || note.duration >= LEAST_SHARE * (median(lengths) ?? 0));
  return { brushed, soft: note.velocity <= SOFT * usual, stroke };
};

/** Notes of no length always go. */
export const dropSpecks: Step<'dropSpecks'> = {
  id: 'dropSpecks',
  name: 'Drop specks',
  explanation:
    'Takes out notes too short to be meant: brushed keys, and soft ones. A short stroke that stands alone and is as loud as those about it stays.',
  defaults: { shorterThan: [noteValue(1 / 64), milliseconds(40)], softerThan: null, unlessMoreThan: 8 },
  fields: {
    shorterThan: { kind: 'lengths', label: 'Shorter than' },
    softerThan: { kind: 'number', label: 'And softer than', min: 1, max: 127, none: 'any loudness', of: 'velocity' },
    unlessMoreThan: {
      kind: 'number',
      label: 'Unless they are more than',
      min: 1,
      max: 100,
      unit: '%',
      none: 'however many',
    },
  },
  once: true,
  sees: 'part',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const kept: StepNote[] = [];
    const { shorterThan, softerThan, unlessMoreThan } = parameters;
    const limit = shortestOf(shorterThan, context.ppq);
    // Where the music is so fast that real notes are this short, only those about it tell a speck.
    const times = shorterThan.filter(({ unit }) => unit === 'ms');
    /** For each note: 2 where it is shorter than the shortest of the lengths, 1 than a time among them, else 0. */
    const short = new Uint8Array(active.length);
    for (let index = 0; index < active.length; index += 1) {
      const { onset, duration } = active[index] as StepNote;
      const perMs = context.tempoMap.ticksPerMillisecond(onset);
      for (const length of times) if (duration < lengthInTicks(length, context.ppq, perMs)) short[index] = 1;
      if (duration < limit(perMs)) short[index] = 2;
    }
    let usualInPart: number | undefined;
    const usual = (): number => {
      usualInPart ??= median(active.filter((_, index) => short[index] === 0).map(({ velocity }) => velocity)) ?? 0;
      return usualInPart;
    };
    const isSpeck = (note: StepNote, index: number): boolean => {
      if (short[index] === 0 || (softerThan !== null && note.velocity >= softerThan)) return false;
      const { brushed, soft, stroke } = lookedAt(active, index, context, short, usual, () =>
        playedRoughly(active, context),
      );
      return short[index] === 2 ? !stroke : brushed && soft;
    };
    const specks = new Set(active.filter((note, index) => note.duration > 0 && isSpeck(note, index)));
    const count = specks.size;
    const asMany = unlessMoreThan !== null && count > FEW && count * 100 > active.length * unlessMoreThan;
    const theWayItIsPlayed = asMany || (count > 0 && isUntouched(active, context));
    for (const note of active) {
      if (note.duration <= 0) {
        changes.push({ noteId: note.id, from: note, to: null, reason: `${aNote(note.pitch, context)} with no length` });
      } else if (!theWayItIsPlayed && specks.has(note)) {
        const reason = `${aNote(note.pitch, context)} of only ${inMilliseconds(note.duration, note.onset, context)}`;
        changes.push({ noteId: note.id, from: note, to: null, reason });
      } else kept.push(note);
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(kept, muted), changes };
  },
};
