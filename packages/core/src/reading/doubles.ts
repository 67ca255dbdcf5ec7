/** Two notes of one pitch that sound at once: one note and its double, or one key that is struck again? */
import { endOf } from '../model/arrangement.js';
import { milliseconds, noteValue, shortestOf } from '../time/noteLengths.js';
import type { StepContext } from './context.js';
import type { StepNote } from './stepNote.js';

/** Two takes of one note start within this of each other (milliseconds), and within less than the quickest repeats do. */
const TAKES = [milliseconds(75), noteValue(1 / 24)] as const;
/** They share at least so much of the shorter one. */
const SHARED = 0.45;
/** A double is so much softer than what it lies under… */
const SOFT = 0.65;
/** …where their ends cross also than the part's middle loudness… */
const SOFT_IN_PART = 0.58;
/** …and softer than both by so much it is one, however long. */
const VERY_SOFT = 0.52;
/** …and what it lasts beside it is no more than this (milliseconds). */
const SHORT = 140;

/** What sounds already: its first note, and where it ends by now. */
export interface Sounding {
  readonly first: StepNote;
  readonly end: number;
}

/**
 * True where `second` is no stroke of its own. A file tells only that the key went down twice and came up twice: where the
 * ends cross, the double's may have been taken for the note's, so that what both share is what the double lasted.
 */
export const isDouble = (
  { first, end }: Sounding,
  second: StepNote,
  { tempoMap, ppq }: StepContext,
  usualVelocity: number,
): boolean => {
  const perMs = tempoMap.ticksPerMillisecond(second.onset);
  const apart = second.onset - first.onset;
  const shared = Math.min(end, endOf(second)) - second.onset;
  const shorter = Math.min(end - first.onset, second.duration);
  if (apart <= shortestOf(TAKES, ppq)(perMs) && shared >= SHARED * shorter) return true;
  if (second.velocity <= VERY_SOFT * Math.min(first.velocity, usualVelocity)) return true;
  if (second.velocity > SOFT * first.velocity || shared > SHORT * perMs) return false;
  return endOf(second) <= end || second.velocity <= SOFT_IN_PART * usualVelocity;
};

/** A finger lets go this late, where it already strikes the same key again with another (milliseconds). */
const LATE = 85;

/** True where `note`, under the end of a longer one of its pitch, is a stroke of its own: not soft, and only just under it. */
export const runsIntoRepeat = (cover: StepNote, note: StepNote, { tempoMap }: StepContext): boolean =>
  note.velocity > SOFT * cover.velocity && endOf(cover) - note.onset <= LATE * tempoMap.ticksPerMillisecond(note.onset);
