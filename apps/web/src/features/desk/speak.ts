/** What is said: the words at the foot of the Desk, and what a screen reader hears. */
import { type Arrangement, barPosition, type MeterMap, type Note, noteNameOf, type Part } from '@crispfold/core';
import { createValueStore } from '../../ui/valueStore.js';
import { counted } from '../../ui/words.js';

/** What the pointer or the keys will do next. */
export const hint = createValueStore('');
/** Spoken by screen readers when it changes. */
export const spoken = createValueStore('');

/** Note values by name, longest first, as fractions of a whole note: the one list for words and menus. */
export const NOTE_VALUES: readonly (readonly [fraction: number, name: string])[] = [
  [1, 'whole'],
  [3 / 4, 'dotted half'],
  [1 / 2, 'half'],
  [3 / 8, 'dotted quarter'],
  [1 / 4, 'quarter'],
  [3 / 16, 'dotted eighth'],
  [1 / 6, 'quarter of a triplet'],
  [1 / 8, 'eighth'],
  [3 / 32, 'dotted sixteenth'],
  [1 / 12, 'eighth of a triplet'],
  [1 / 16, 'sixteenth'],
  [1 / 24, 'sixteenth of a triplet'],
  [1 / 32, 'thirty-second'],
  [1 / 64, 'sixty-fourth'],
];

/** A length in words: the nearest value, "about" where it is not that value to the tick. */
export const lengthInWords = (ticks: number, ppq: number): string => {
  const fraction = ticks / ppq / 4;
  const [value, name] = NOTE_VALUES.reduce((best, candidate) =>
    Math.abs(Math.log(candidate[0] / fraction)) < Math.abs(Math.log(best[0] / fraction)) ? candidate : best,
  );
  return Math.abs(value - fraction) < 0.0025 ? name : `about ${/^[aeio]/.test(name) ? 'an' : 'a'} ${name}`;
};

/** "Clarinet, C4, bar 3 beat 2, about a quarter, velocity 84". */
export const noteInWords = (part: Part, note: Note, arrangement: Arrangement, meterMap: MeterMap): string => {
  const { bar, beat, tick } = barPosition(meterMap, arrangement.ppq, note.onset);
  const place = `bar ${bar} beat ${beat}${tick > 0 ? `, ${counted(tick, 'tick')}` : ''}`;
  return `${part.name}, ${noteNameOf(part, note.pitch)}, ${place}, ${lengthInWords(note.duration, arrangement.ppq)}, velocity ${note.velocity}`;
};
