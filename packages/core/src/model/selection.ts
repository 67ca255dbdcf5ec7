/** Which notes are selected: a set of ids by part, whatever part is in front. Every Edit maps it. */
import type { Arrangement, Note, NoteId, Part, PartId } from './arrangement.js';
import type { KeptEdit } from './edit.js';

/** Selected notes by part; a part with none is left out. */
export type Selection = ReadonlyMap<PartId, ReadonlySet<NoteId>>;

/** Nothing. */
export const NOTHING: Selection = new Map();

const NONE: ReadonlySet<NoteId> = new Set();

/** The selection of some notes of one part. */
export const selectionOf = (partId: PartId, ids: Iterable<NoteId>): Selection => {
  const set = new Set(ids);
  return set.size === 0 ? NOTHING : new Map([[partId, set]]);
};

/** The selected ids of one part. */
export const selectedIn = (selection: Selection, partId: PartId): ReadonlySet<NoteId> => selection.get(partId) ?? NONE;

/** True where the note is selected. */
export const isSelected = (selection: Selection, partId: PartId, id: NoteId): boolean =>
  selection.get(partId)?.has(id) ?? false;

/** How many notes are selected. */
export const selectionSize = (selection: Selection): number => {
  let size = 0;
  for (const ids of selection.values()) size += ids.size;
  return size;
};

/** The selection with one part's ids replaced. */
export const withSelectedIn = (selection: Selection, partId: PartId, ids: ReadonlySet<NoteId>): Selection => {
  const next = new Map(selection);
  if (ids.size > 0) next.set(partId, ids);
  else next.delete(partId);
  return next.size === 0 ? NOTHING : next;
};

/** What is in both of two selections; the very same as the first where all of it is. */
export const intersectionOf = (a: Selection, b: Selection): Selection => {
  let both = a;
  for (const [partId, ids] of a) {
    const kept = new Set([...ids].filter((id) => isSelected(b, partId, id)));
    if (kept.size !== ids.size) both = withSelectedIn(both, partId, kept);
  }
  return both;
};

/** What is in either of two selections. */
export const unionOf = (a: Selection, b: Selection): Selection => {
  let union = a;
  for (const [partId, ids] of b) union = withSelectedIn(union, partId, new Set([...selectedIn(a, partId), ...ids]));
  return union;
};

/** After a click or a box that adds: what is new comes in, what was already in goes out. */
export const toggledIn = (selection: Selection, found: Selection): Selection => {
  let next = selection;
  for (const [partId, ids] of found) {
    const merged = new Set(selectedIn(next, partId));
    for (const id of ids) if (!merged.delete(id)) merged.add(id);
    next = withSelectedIn(next, partId, merged);
  }
  return next;
};

/** The selected notes of a part, in its order. */
export const selectedNotes = (selection: Selection, part: Part): readonly Note[] => {
  const ids = selection.get(part.id);
  return ids ? part.notes.filter((note) => ids.has(note.id)) : [];
};

/** The notes of some parts that pass a test, as a selection. */
export const selectionWhere = (parts: readonly Part[], keeps: (note: Note, part: Part) => boolean): Selection => {
  const selection = new Map<PartId, ReadonlySet<NoteId>>();
  for (const part of parts) {
    const ids = new Set<NoteId>();
    for (const note of part.notes) if (keeps(note, part)) ids.add(note.id);
    if (ids.size > 0) selection.set(part.id, ids);
  }
  return selection.size === 0 ? NOTHING : selection;
};

/** The notes of some parts that are not selected. */
export const turnedRound = (selection: Selection, parts: readonly Part[]): Selection =>
  selectionWhere(parts, (note, part) => !isSelected(selection, part.id, note.id));

/** The selection of some parts alone; the very same where it holds no others. */
export const selectionAmong = (selection: Selection, among: ReadonlySet<PartId>): Selection => {
  if ([...selection.keys()].every((id) => among.has(id))) return selection;
  const kept = new Map([...selection].filter(([id]) => among.has(id)));
  return kept.size === 0 ? NOTHING : kept;
};

/**
 * The selection after an Edit: what was taken out leaves it, what was made from a selected note joins it. The very same
 * selection where the Edit makes no difference to it.
 */
export const mapSelection = (selection: Selection, edit: KeptEdit): Selection => {
  let next = selection;
  for (const change of edit.changes) {
    if (change.kind === 'partRemoved') next = withSelectedIn(next, change.part.id, NONE);
    if (change.kind !== 'notes') continue;
    const ids = next.get(change.partId);
    if (!ids) continue;
    const gone = change.removed.filter((note) => ids.has(note.id));
    const joined = (change.madeFrom ?? []).filter(([made, source]) => ids.has(source) && !ids.has(made));
    if (gone.length + joined.length === 0) continue;
    const mapped = new Set(ids);
    for (const [made] of joined) mapped.add(made);
    for (const note of gone) mapped.delete(note.id);
    next = withSelectedIn(next, change.partId, mapped);
  }
  return next;
};

/** The selection without notes and parts that the arrangement does not have; the very same where all are there. */
export const selectionWithin = (selection: Selection, { parts }: Pick<Arrangement, 'parts'>): Selection => {
  let next = selection;
  for (const [partId, ids] of selection) {
    const part = parts.find((candidate) => candidate.id === partId);
    const there = new Set<NoteId>();
    for (const note of part?.notes ?? []) if (ids.has(note.id)) there.add(note.id);
    if (there.size !== ids.size) next = withSelectedIn(next, partId, there);
  }
  return next;
};

/** True where two selections hold the same notes. */
export const sameSelection = (a: Selection, b: Selection): boolean =>
  a === b ||
  (selectionSize(a) === selectionSize(b) &&
    [...a].every(([partId, ids]) => [...ids].every((id) => isSelected(b, partId, id))));
