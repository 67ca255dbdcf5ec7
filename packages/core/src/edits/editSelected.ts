/** The one way in which a change of selected notes becomes an Edit: part by part, one entry of the history. */
import type { Arrangement, Note, Part } from '../model/arrangement.js';
import { type Change, type Edit, type Pair, sameNote } from '../model/edit.js';
import { type Selection, selectedNotes } from '../model/selection.js';
import { labelFor } from './labels.js';

/**
 * The Edit in which each selected note becomes what `change` makes of it (null takes it out); null where nothing differs.
 * Costs what the parts with selected notes have of notes, and nothing for matching them: ids stay.
 */
export const editSelected = (
  verb: string,
  { parts }: Arrangement,
  selection: Selection,
  change: (note: Note, part: Part) => Note | null,
): Edit | null => {
  const changes: Change[] = [];
  const counts: { part: Part; count: number }[] = [];
  for (const part of parts) {
    const ids = selection.get(part.id);
    if (!ids) continue;
    const removed: Note[] = [];
    const changed: Pair<Note>[] = [];
    for (const before of part.notes) {
      if (!ids.has(before.id)) continue;
      const after = change(before, part);
      if (after === null) removed.push(before);
      else if (!sameNote(before, after)) changed.push({ before, after });
    }
    const count = removed.length + changed.length;
    if (count === 0) continue;
    changes.push({ kind: 'notes', partId: part.id, added: [], removed, changed });
    counts.push({ part, count });
  }
  return changes.length === 0 ? null : { label: labelFor(verb, counts), changes };
};

/** All selected notes, part by part. */
export const allSelected = ({ parts }: Pick<Arrangement, 'parts'>, selection: Selection): Note[] =>
  parts.flatMap((part) => selectedNotes(selection, part));
