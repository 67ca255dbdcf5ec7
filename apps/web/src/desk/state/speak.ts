/** What is said: the words at the foot of the Desk, and what a screen reader hears. */
import {
  type Arrangement,
  barPosition,
  lengthInWords,
  type MeterMap,
  type Note,
  noteNameOf,
  type Part,
} from '@crispfold/core';
import { createValueStore } from '../../ui/valueStore.js';
import { counted } from '../../ui/words.js';

/** What the pointer or the keys will do next. */
export const hint = createValueStore('');
/** Spoken by screen readers when it changes. */
export const spoken = createValueStore('');

const KEY = 'crispfold-speaking';

/** True where little is said: what a note is and where, without what is small about it. */
export const terse = createValueStore(
  ((): boolean => {
    try {
      return localStorage.getItem(KEY) === 'terse';
    } catch {
      return false;
    }
  })(),
);

/** Speaks in short from now on, or in full. */
export const turnSpeaking = (): void => {
  const now = !terse.get();
  terse.set(now);
  try {
    localStorage.setItem(KEY, now ? 'terse' : 'full');
  } catch {
    // Where the browser keeps nothing it holds until the page goes.
  }
  spoken.set(now ? 'Spoken in short.' : 'Spoken in full.');
};

/** "Clarinet, C4, bar 3 beat 2, about a quarter, velocity 84"; in short "C4, bar 3 beat 2, about a quarter". */
export const noteInWords = (part: Part, note: Note, arrangement: Arrangement, meterMap: MeterMap): string => {
  const { bar, beat, tick } = barPosition(meterMap, arrangement.ppq, note.onset);
  if (terse.get()) {
    const length = lengthInWords(note.duration, arrangement.ppq);
    return `${noteNameOf(part, note.pitch)}, bar ${bar} beat ${beat}, ${length}`;
  }
  const place = `bar ${bar} beat ${beat}${tick > 0 ? `, ${counted(tick, 'tick')}` : ''}`;
  return `${part.name}, ${noteNameOf(part, note.pitch)}, ${place}, ${lengthInWords(note.duration, arrangement.ppq)}, velocity ${note.velocity}`;
};
