/** Words for notes and times in reasons. */
import type { StepContext } from './context.js';

const NAMES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'];

/** A pitch in words; 60 is C4 (scientific pitch notation). */
export const pitchName = (pitch: number): string => `${NAMES[((pitch % 12) + 12) % 12]}${Math.floor(pitch / 12) - 1}`;

/** A pitch with its article: "a C4", "an F♯2". */
export const aPitch = (pitch: number): string => {
  const name = pitchName(pitch);
  return `${'AEF'.includes(name.charAt(0)) ? 'an' : 'a'} ${name}`;
};

/** "1 note", "4 notes". */
export const countOfNotes = (count: number): string => `${count} ${count === 1 ? 'note' : 'notes'}`;

/** A length in ticks at a place, said in milliseconds. */
export const inMilliseconds = (lengthInTicks: number, tick: number, context: StepContext): string =>
  inWholeMilliseconds(Math.round(Math.abs(lengthInTicks) / context.tempoMap.ticksPerMillisecond(tick)));

const inWholeMilliseconds = (value: number): string => (value === 0 ? 'less than 1 ms' : `${value} ms`);
