/** Whether an arrangement may become what an Edit makes of it: no more than it can hold, and each id once. */
import type { Arrangement, Note } from './arrangement.js';
import { MOST_NOTES, MOST_PARTS } from './limits.js';
import type { Problem } from './result.js';

const many = (count: number): string => count.toLocaleString('en');

const hasTwice = (items: readonly { readonly id: number }[]): boolean =>
  new Set(items.map(({ id }) => id)).size < items.length;

const notesOf = (arrangement: Arrangement): Note[] => arrangement.parts.flatMap((part) => part.notes);
const noteCount = ({ parts }: Arrangement): number => parts.reduce((sum, { notes }) => sum + notes.length, 0);

/**
 * What speaks against an arrangement becoming another by Edits; undefined where nothing does. Ids are looked at only where a
 * part got other notes than it had. One that is too large already may become smaller.
 */
export const problemOfChange = (before: Arrangement, after: Arrangement): Problem | undefined => {
  if (after.parts.length > Math.max(MOST_PARTS, before.parts.length)) {
    return {
      code: 'tooManyParts',
      message: `An arrangement holds ${many(MOST_PARTS)} parts at most; this would make ${many(after.parts.length)}.`,
    };
  }
  const count = noteCount(after);
  if (count > Math.max(MOST_NOTES, noteCount(before))) {
    return {
      code: 'tooManyNotes',
      message: `An arrangement holds ${many(MOST_NOTES)} notes at most; this would make ${many(count)}.`,
    };
  }
  const lengths = new Map(before.parts.map(({ id, notes }) => [id, notes.length]));
  const grown = after.parts.filter(({ id, notes }) => notes.length > (lengths.get(id) ?? 0));
  // Most notes are new, with ids that no note had: then those few alone are looked at.
  const fresh = grown.flatMap(({ notes }) => notes.filter(({ id }) => id >= before.nextNoteId));
  const growth = grown.reduce((total, { id, notes }) => total + notes.length - (lengths.get(id) ?? 0), 0);
  const allFresh = fresh.length === growth && !hasTwice(fresh);
  if (growth > 0 && !allFresh && hasTwice(notesOf(after)) && !hasTwice(notesOf(before))) {
    return { code: 'sameNote', message: 'This change would put one note in two places.' };
  }
  return undefined;
};
