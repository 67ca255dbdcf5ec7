/** Changes that a person makes by hand, as Edits: move, trim, draw, delete. Only the given part is touched. */
import { type Arrangement, type Note, type NoteId, type Part, type PartId, partById } from '../model/arrangement.js';
import { type Edit, notesChange } from '../model/edit.js';
import { ticks } from '../time/units.js';

const countOf = (count: number): string => `${count} ${count === 1 ? 'note' : 'notes'}`;

const editOf = (verb: string, part: Part, after: readonly Note[], count: number): Edit | null => {
  const change = notesChange(part.id, part.notes, after);
  return change ? { label: `${verb}: ${countOf(count)} in ${part.name}`, changes: [change] } : null;
};

const chosen = (part: Part, ids: ReadonlySet<NoteId>): Note[] => part.notes.filter((note) => ids.has(note.id));

const withChanged = (part: Part, ids: ReadonlySet<NoteId>, change: (note: Note) => Note): Note[] =>
  part.notes.map((note) => (ids.has(note.id) ? change(note) : note));

/** Keeps a move within what can be: no note before tick 0, no pitch outside 0 to 127. */
export const limitMove = (
  notes: readonly Note[],
  byTicks: number,
  bySemitones: number,
): { byTicks: number; bySemitones: number } => {
  let earliest = Number.POSITIVE_INFINITY;
  let lowest = 127;
  let highest = 0;
  for (const note of notes) {
    earliest = Math.min(earliest, note.onset);
    lowest = Math.min(lowest, note.pitch);
    highest = Math.max(highest, note.pitch);
  }
  if (notes.length === 0) return { byTicks: 0, bySemitones: 0 };
  return {
    byTicks: Math.max(0 - earliest, Math.round(byTicks)),
    bySemitones: Math.max(-lowest, Math.min(127 - highest, Math.round(bySemitones))),
  };
};

/** Moves notes in time and pitch; null where nothing moves. */
export const moveNotes = (
  arrangement: Arrangement,
  partId: PartId,
  ids: ReadonlySet<NoteId>,
  byTicks: number,
  bySemitones: number,
): Edit | null => {
  const part = partById(arrangement, partId);
  if (!part) return null;
  const notes = chosen(part, ids);
  const by = limitMove(notes, byTicks, bySemitones);
  if (by.byTicks === 0 && by.bySemitones === 0) return null;
  const after = withChanged(part, ids, (note) => ({
    ...note,
    onset: ticks(note.onset + by.byTicks),
    pitch: note.pitch + by.bySemitones,
  }));
  return editOf(by.byTicks === 0 ? 'Transpose' : 'Move', part, after, notes.length);
};

/** Moves the start or the end of each note by `byTicks`; a note keeps at least one tick. */
export const trimmedNote = (note: Note, edge: 'start' | 'end', byTicks: number): Note => {
  const by = Math.round(byTicks);
  if (edge === 'end') return { ...note, duration: ticks(Math.max(1, note.duration + by)) };
  const moved = Math.max(-note.onset, Math.min(Math.max(0, note.duration - 1), by));
  return { ...note, onset: ticks(note.onset + moved), duration: ticks(note.duration - moved) };
};

/** Trims notes at one edge; null where nothing changes. */
export const trimNotes = (
  arrangement: Arrangement,
  partId: PartId,
  ids: ReadonlySet<NoteId>,
  edge: 'start' | 'end',
  byTicks: number,
): Edit | null => {
  const part = partById(arrangement, partId);
  if (!part) return null;
  const after = withChanged(part, ids, (note) => trimmedNote(note, edge, byTicks));
  return editOf(edge === 'start' ? 'Trim starts' : 'Trim ends', part, after, chosen(part, ids).length);
};

/** Moves the edge that two notes share: the end of `first` and the start of `second`, each keeping at least one tick. */
export const moveSharedEdge = (
  arrangement: Arrangement,
  partId: PartId,
  first: NoteId,
  second: NoteId,
  byTicks: number,
): Edit | null => {
  const part = partById(arrangement, partId);
  const before = part?.notes.find((note) => note.id === first);
  const after = part?.notes.find((note) => note.id === second);
  if (!part || !before || !after) return null;
  const by = Math.max(1 - before.duration, Math.min(after.duration - 1, Math.round(byTicks)));
  const notes = part.notes.map((note) =>
    note.id === first ? trimmedNote(note, 'end', by) : note.id === second ? trimmedNote(note, 'start', by) : note,
  );
  return editOf('Move shared edge', part, notes, 2);
};

/** Takes notes out. */
export const deleteNotes = (arrangement: Arrangement, partId: PartId, ids: ReadonlySet<NoteId>): Edit | null => {
  const part = partById(arrangement, partId);
  if (!part) return null;
  const after = part.notes.filter((note) => !ids.has(note.id));
  return editOf('Delete', part, after, part.notes.length - after.length);
};

/** Adds one note; its id is the arrangement's next. */
export const drawNote = (
  arrangement: Arrangement,
  partId: PartId,
  { pitch, onset, duration, velocity }: { pitch: number; onset: number; duration: number; velocity: number },
): Edit | null => {
  const part = partById(arrangement, partId);
  if (!part) return null;
  const note: Note = {
    id: arrangement.nextNoteId,
    pitch: Math.max(0, Math.min(127, Math.round(pitch))),
    onset: ticks(Math.max(0, Math.round(onset))),
    duration: ticks(Math.max(1, Math.round(duration))),
    velocity: Math.max(1, Math.min(127, Math.round(velocity))),
    channel: part.channel,
  };
  return editOf('Draw', part, [...part.notes, note], 1);
};
