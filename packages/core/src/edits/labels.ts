/** What the history calls a change of notes. */
import type { Part } from '../model/arrangement.js';
import { countOfNotes } from '../reading/noteWords.js';

/** "Move: 2 notes in Flute", or "Move: 2 notes in Flute, 1 in Cello". */
export const labelFor = (verb: string, counts: readonly { readonly part: Part; readonly count: number }[]): string =>
  `${verb}: ${counts.map(({ part, count }, index) => `${index === 0 ? countOfNotes(count) : count} in ${part.name}`).join(', ')}`;
