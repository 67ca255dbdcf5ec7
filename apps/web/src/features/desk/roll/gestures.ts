/** What a press and a drag in the roll mean. No DOM here: places in, meaning out. */
import type { Note, NoteId } from '@crispfold/core';
import { asRollNote, type RollNote } from './layers.js';
import { createNoteIndex, type NoteIndex, noteAt, notesInBox } from './noteIndex.js';
import { pitchOfY, type RollView, type Rows, tickOfX, xOfTick } from './rollView.js';

/** What lies under the pointer in the front part. */
export type Target =
  | { readonly kind: 'body'; readonly note: RollNote }
  | { readonly kind: 'edge'; readonly note: RollNote; readonly edge: 'start' | 'end' }
  | { readonly kind: 'seam'; readonly first: RollNote; readonly second: RollNote }
  | { readonly kind: 'empty' };

/** Pixels from an edge within which it is grabbed; never more than a quarter of the note. */
const EDGE_REACH = 6;
/** Narrow notes can be grabbed this far outside, in pixels. */
const NOTE_REACH = 3;

const EMPTY: Target = { kind: 'empty' };

/** Finds what is under a point of the roll. */
export const targetAt = (index: NoteIndex<RollNote>, view: RollView, rows: Rows, x: number, y: number): Target => {
  const pitch = pitchOfY(view, rows, y);
  if (pitch === undefined) return EMPTY;
  const tick = tickOfX(view, x);
  const note = noteAt(index, pitch, tick, NOTE_REACH * view.ticksPerPixel);
  if (!note) return EMPTY;
  const left = xOfTick(view, note.onset);
  const right = xOfTick(view, note.onset + note.duration);
  const reach = Math.min(EDGE_REACH, (right - left) / 4);
  const edge =
    Math.abs(x - right) <= Math.max(reach, x > right ? NOTE_REACH : 0)
      ? 'end'
      : Math.abs(x - left) <= reach
        ? 'start'
        : null;
  if (!edge) return { kind: 'body', note };
  const seam = touching(index, note, edge, view);
  return seam ?? { kind: 'edge', note, edge };
};

/** The neighbour of the same pitch whose edge is the very one grabbed (within a pixel). */
const touching = (
  index: NoteIndex<RollNote>,
  note: RollNote,
  edge: 'start' | 'end',
  view: RollView,
): Target | undefined => {
  const at = edge === 'end' ? note.onset + note.duration : note.onset;
  const near = Math.max(1, view.ticksPerPixel);
  const beside = notesInBox(index, { start: at - near, end: at + near, lowest: note.pitch, highest: note.pitch });
  const other = beside.find(
    (candidate) =>
      candidate.id !== note.id &&
      Math.abs((edge === 'end' ? candidate.onset : candidate.onset + candidate.duration) - at) <= near,
  );
  if (!other) return undefined;
  return edge === 'end' ? { kind: 'seam', first: note, second: other } : { kind: 'seam', first: other, second: note };
};

/** How a tick goes to the grid: whole ticks where `unit` is 0. */
export const snapTick = (tick: number, unit: number, barStart: number): number =>
  unit <= 0 ? Math.round(tick) : barStart + Math.round((tick - barStart) / unit) * unit;

/** A distance as whole grid steps, so that a moved note keeps its own place beside the line. */
export const snapDistance = (distance: number, unit: number): number =>
  unit <= 0 ? Math.round(distance) : Math.round(distance / unit) * unit;

/** Snapping is off by choice, or because single ticks can be seen. */
export const gridUnit = (snapOn: boolean, fraction: number, ppq: number, ticksPerPixel: number): number =>
  !snapOn || ticksPerPixel < 0.25 ? 0 : fraction * 4 * ppq;

/** Which layer the pointer works on, left and right of the crease. */
export const indexAt = (
  played: NoteIndex<RollNote>,
  written: NoteIndex<RollNote>,
  tick: number,
  creaseTick: number,
): NoteIndex<RollNote> => (tick < creaseTick ? played : written);

/** An index over notes as an Edit would leave them: changed, taken out (null) and added ones, in order of onset. */
export const draftIndex = (
  index: NoteIndex<RollNote>,
  edited: ReadonlyMap<NoteId, Note | null>,
): NoteIndex<RollNote> => {
  const left = new Map(edited);
  const notes = index.notes.flatMap((note) => {
    const now = left.get(note.id);
    left.delete(note.id);
    return now === undefined ? [note] : now === null ? [] : [asRollNote(now)];
  });
  for (const added of left.values()) if (added) notes.push(asRollNote(added));
  return createNoteIndex(notes.sort((a, b) => a.onset - b.onset));
};
