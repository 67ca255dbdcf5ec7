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

/** "Clarinet, C4, bar 3 beat 2, about a quarter, velocity 84". */
export const noteInWords = (part: Part, note: Note, arrangement: Arrangement, meterMap: MeterMap): string => {
  const { bar, beat, tick } = barPosition(meterMap, arrangement.ppq, note.onset);
  const place = `bar ${bar} beat ${beat}${tick > 0 ? `, ${counted(tick, 'tick')}` : ''}`;
  return `${part.name}, ${noteNameOf(part, note.pitch)}, ${place}, ${lengthInWords(note.duration, arrangement.ppq)}, velocity ${note.velocity}`;
};
