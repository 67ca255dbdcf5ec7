/** The one way in which a change of selected notes becomes an Edit: part by part, one entry of the history. */
import type { Arrangement, Note, Part } from '../model/arrangement.js';
import { type Change, type Edit, notesChange } from '../model/edit.js';
import { type Selection, selectedNotes } from '../model/selection.js';
import { labelFor } from './labels.js';

/** How many notes a change of one part touches. */
const touchedBy = (change: Extract<Change, { kind: 'notes' }>): number =>
  change.added.length + change.removed.length + change.changed.length;

/** One Edit of what `after` leaves of each part that has selected notes; null where nothing differs. */
export const editParts = (
  verb: string,
  { parts }: Arrangement,
  selection: Selection,
  after: (part: Part) => readonly Note[],
): Edit | null => {
  const changes: Change[] = [];
  const counts: { part: Part; count: number }[] = [];
  for (const part of parts) {
    if (!selection.has(part.id)) continue;
    const own = notesChange(part.id, part.notes, after(part));
    if (!own) continue;
    changes.push(own);
    counts.push({ part, count: touchedBy(own) });
  }
  return changes.length === 0 ? null : { label: labelFor(verb, counts), changes };
};

/** The Edit in which each selected note becomes what `change` makes of it (null takes it out); null where nothing differs. */
export const editSelected = (
  verb: string,
  arrangement: Arrangement,
  selection: Selection,
  change: (note: Note, part: Part) => Note | null,
): Edit | null =>
  editParts(verb, arrangement, selection, (part) => {
    const ids = selection.get(part.id);
    return part.notes.flatMap((note) => (ids?.has(note.id) ? (change(note, part) ?? []) : note));
  });

/** All selected notes, part by part. */
export const allSelected = ({ parts }: Pick<Arrangement, 'parts'>, selection: Selection): Note[] =>
  parts.flatMap((part) => selectedNotes(selection, part));
