/** Changes that a person makes by hand, as Edits: move, trim, draw, delete, mute. A selection may span parts; it is one Edit. */
import { type Arrangement, type Note, type NoteId, type PartId, partById } from '../model/arrangement.js';
import { type Edit, notesChange } from '../model/edit.js';
import type { Selection } from '../model/selection.js';
import { ticks } from '../time/units.js';
import { allSelected, editSelected } from './editSelected.js';
import { labelFor } from './labels.js';

/** How far notes are moved. */
export interface Shift {
  readonly byTicks: number;
  readonly bySemitones: number;
}

/** Keeps a move within what can be: no note before tick 0, no pitch outside 0 to 127. */
export const limitMove = (notes: readonly Note[], { byTicks, bySemitones }: Shift): Shift => {
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

/** Moves notes in time and pitch, all by the same; null where nothing moves. */
export const moveNotes = (arrangement: Arrangement, selection: Selection, shift: Shift): Edit | null => {
  const by = limitMove(allSelected(arrangement, selection), shift);
  if (by.byTicks === 0 && by.bySemitones === 0) return null;
  return editSelected(by.byTicks === 0 ? 'Transpose' : 'Move', arrangement, selection, (note) => ({
    ...note,
    onset: ticks(note.onset + by.byTicks),
    pitch: note.pitch + by.bySemitones,
  }));
};

/** Moves the start or the end of each note by `byTicks`; a note keeps at least one tick. */
const trimmedNote = (note: Note, edge: 'start' | 'end', byTicks: number): Note => {
  const by = Math.round(byTicks);
  if (edge === 'end') return { ...note, duration: ticks(Math.max(1, note.duration + by)) };
  const moved = Math.max(-note.onset, Math.min(Math.max(0, note.duration - 1), by));
  return { ...note, onset: ticks(note.onset + moved), duration: ticks(note.duration - moved) };
};

/** Trims notes at one edge; null where nothing changes. */
export const trimNotes = (
  arrangement: Arrangement,
  selection: Selection,
  edge: 'start' | 'end',
  byTicks: number,
): Edit | null =>
  editSelected(edge === 'start' ? 'Trim starts' : 'Trim ends', arrangement, selection, (note) =>
    trimmedNote(note, edge, byTicks),
  );

/** Gives all selected notes one length, at least one tick; `edge` is the one that moves. */
export const setLengths = (
  arrangement: Arrangement,
  selection: Selection,
  edge: 'start' | 'end',
  length: number,
): Edit | null =>
  editSelected('Set lengths', arrangement, selection, (note) => {
    const by = Math.max(1, Math.round(length)) - note.duration;
    return trimmedNote(note, edge, edge === 'end' ? by : -by);
  });

/** What becomes of a loudness: another for all, or so much more or less for each. Velocities stay within 1 to 127. */
export type LoudnessChange = { readonly to: number } | { readonly by: number };

/** Changes how loud notes are; null where nothing differs. */
export const changeVelocities = (arrangement: Arrangement, selection: Selection, change: LoudnessChange): Edit | null =>
  editSelected('Loudness', arrangement, selection, (note) => ({
    ...note,
    velocity: withinVelocity('to' in change ? change.to : note.velocity + change.by),
  }));

const withinVelocity = (velocity: number): number => Math.max(1, Math.min(127, Math.round(velocity)));

/** Silences notes without taking them out, or, where all are silent already, lets them sound again. */
export const muteNotes = (arrangement: Arrangement, selection: Selection): Edit | null => {
  const sounding = allSelected(arrangement, selection).some((note) => !note.muted);
  return editSelected(sounding ? 'Mute' : 'Sound again', arrangement, selection, ({ muted: _, ...note }) =>
    sounding ? { ...note, muted: true } : note,
  );
};

/** Takes notes out. */
export const deleteNotes = (arrangement: Arrangement, selection: Selection): Edit | null =>
  editSelected('Delete', arrangement, selection, () => null);

/** What a drawn note is like. */
export interface DrawnNote {
  readonly pitch: number;
  readonly onset: number;
  readonly duration: number;
  readonly velocity: number;
}

/** Adds one note; its id is the arrangement's next. */
export const drawNote = (arrangement: Arrangement, partId: PartId, drawn: DrawnNote): Edit | null =>
  drawNotes(arrangement, partId, [drawn]);

/** Adds a note cut into repeats of `unit` ticks, the last as long as what is left. */
export const drawRepeats = (arrangement: Arrangement, partId: PartId, drawn: DrawnNote, unit: number): Edit | null => {
  const step = Math.max(1, Math.round(unit));
  const count = Math.max(1, Math.ceil(drawn.duration / step - 0.001));
  return drawNotes(
    arrangement,
    partId,
    Array.from({ length: count }, (_, turn) => ({
      ...drawn,
      onset: drawn.onset + turn * step,
      duration: Math.min(step, drawn.duration - turn * step),
    })),
  );
};

const drawNotes = (arrangement: Arrangement, partId: PartId, drawn: readonly DrawnNote[]): Edit | null => {
  const part = partById(arrangement, partId);
  if (!part) return null;
  const notes = drawn.map(
    ({ pitch, onset, duration, velocity }, index): Note => ({
      id: arrangement.nextNoteId + index,
      pitch: Math.max(0, Math.min(127, Math.round(pitch))),
      onset: ticks(Math.max(0, Math.round(onset))),
      duration: ticks(Math.max(1, Math.round(duration))),
      velocity: withinVelocity(velocity),
      channel: part.channel,
    }),
  );
  const change = notesChange(partId, part.notes, [...part.notes, ...notes]);
  return change ? { label: labelFor('Draw', [{ part, count: notes.length }]), changes: [change] } : null;
};

/** The notes that an Edit leaves in the parts it touches, by part; for a preview of it. */
export const editedNotes = (edit: Edit): ReadonlyMap<PartId, ReadonlyMap<NoteId, Note | null>> => {
  const parts = new Map<PartId, Map<NoteId, Note | null>>();
  for (const change of edit.changes) {
    if (change.kind !== 'notes') continue;
    const notes = parts.get(change.partId) ?? new Map<NoteId, Note | null>();
    for (const note of change.removed) notes.set(note.id, null);
    for (const { after } of change.changed) notes.set(after.id, after);
    for (const note of change.added) notes.set(note.id, note);
    parts.set(change.partId, notes);
  }
  return parts;
};
