/** What the history calls a change of notes. */
import type { Part } from '../model/arrangement.js';

const counted = (count: number, noun: boolean): string =>
  noun ? `${count} ${count === 1 ? 'note' : 'notes'}` : String(count);

/** "Move: 2 notes in Flute", or "Move: 2 notes in Flute, 1 in Cello". */
export const labelFor = (verb: string, counts: readonly { readonly part: Part; readonly count: number }[]): string =>
  `${verb}: ${counts.map(({ part, count }, index) => `${counted(count, index === 0)} in ${part.name}`).join(', ')}`;
