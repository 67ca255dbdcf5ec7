/** What is said: the words at the foot of the Desk, and what a screen reader hears. */
import { type Arrangement, barPosition, type MeterMap, type Note, type Part, pitchName } from '@crispfold/core';
import { createValueStore } from '../../ui/valueStore.js';

/** What the pointer or the keys will do next. */
export const hint = createValueStore('');
/** Spoken by screen readers when it changes. */
export const spoken = createValueStore('');

const VALUES: readonly (readonly [number, string])[] = [
  [4, 'whole'],
  [3, 'dotted half'],
  [2, 'half'],
  [1.5, 'dotted quarter'],
  [1, 'quarter'],
  [0.75, 'dotted eighth'],
  [2 / 3, 'quarter of a triplet'],
  [0.5, 'eighth'],
  [1 / 3, 'eighth of a triplet'],
  [0.25, 'sixteenth'],
  [0.125, 'thirty-second'],
];

/** A length in words: the nearest value, "about" where it is not that value to the tick. */
export const lengthInWords = (ticks: number, ppq: number): string => {
  const quarters = ticks / ppq;
  const [value, name] = VALUES.reduce((best, candidate) =>
    Math.abs(Math.log(candidate[0] / quarters)) < Math.abs(Math.log(best[0] / quarters)) ? candidate : best,
  );
  return Math.abs(value - quarters) < 0.01 ? name : `about a ${name}`;
};

/** "Clarinet, C4, bar 3 beat 2, about a quarter, velocity 84". */
export const noteInWords = (part: Part, note: Note, arrangement: Arrangement, meterMap: MeterMap): string => {
  const { bar, beat, tick } = barPosition(meterMap, arrangement.ppq, note.onset);
  const place = `bar ${bar} beat ${beat}${tick > 0 ? `, ${tick} ticks` : ''}`;
  return `${part.name}, ${pitchName(note.pitch)}, ${place}, ${lengthInWords(note.duration, arrangement.ppq)}, velocity ${note.velocity}`;
};
