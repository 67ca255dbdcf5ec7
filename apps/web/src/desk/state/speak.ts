/** How a note is called where it is spoken of. */
import {
  type Arrangement,
  barPosition,
  lengthInWords,
  type MeterMap,
  type Note,
  noteNameOf,
  type Part,
} from '@crispfold/core';
import { counted } from '../../ui/words.js';

/** The music a note stands in; `terse` where little is said of it. */
export interface Where {
  readonly arrangement: Arrangement;
  readonly meterMap: MeterMap;
  readonly terse: boolean;
}

/** "Clarinet, C4, bar 3 beat 2, about a quarter, velocity 84"; in short "C4, bar 3 beat 2, about a quarter". */
export const noteInWords = (part: Part, note: Note, { arrangement, meterMap, terse }: Where): string => {
  const { bar, beat, tick } = barPosition(meterMap, arrangement.ppq, note.onset);
  if (terse) {
    const length = lengthInWords(note.duration, arrangement.ppq);
    return `${noteNameOf(part, note.pitch)}, bar ${bar} beat ${beat}, ${length}`;
  }
  const place = `bar ${bar} beat ${beat}${tick > 0 ? `, ${counted(tick, 'tick')}` : ''}`;
  return `${part.name}, ${noteNameOf(part, note.pitch)}, ${place}, ${lengthInWords(note.duration, arrangement.ppq)}, velocity ${note.velocity}`;
};
