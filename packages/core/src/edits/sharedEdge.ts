/** The place where some notes end and others begin, moved as one: between two notes, two chords, or several parts. */
import { type Arrangement, endOf, type NoteId } from '../model/arrangement.js';
import type { Edit } from '../model/edit.js';
import { type Selection, selectedIn, unionOf } from '../model/selection.js';
import { type Ticks, ticks } from '../time/units.js';
import { editSelected } from './editSelected.js';

/** Notes that end at a place, and notes that begin there. */
export interface SharedEdge {
  readonly at: Ticks;
  readonly ends: Selection;
  readonly starts: Selection;
}

/** Edges no further apart than a 64th are one edge: less than that between two notes is no rest (in ticks). */
export const sharedWithin = (ppq: number): number => ppq / 16;

/** What is looked at: notes of parts, those near the place at least. */
export interface NearNotes {
  readonly partId: number;
  readonly notes: readonly { readonly id: NoteId; readonly onset: number; readonly duration: number }[];
}

/**
 * The shared edge about a tick, from notes that lie near it; null where no note ends there, or none begins. A note too
 * short to have its two edges told apart counts by the nearer.
 */
export const sharedEdgeAt = (near: readonly NearNotes[], at: number, within: number): SharedEdge | null => {
  const ends = new Map<number, Set<number>>();
  const starts = new Map<number, Set<number>>();
  const put = (into: Map<number, Set<number>>, partId: number, id: number) => {
    const ids = into.get(partId) ?? new Set();
    ids.add(id);
    into.set(partId, ids);
  };
  for (const { partId, notes } of near) {
    for (const note of notes) {
      const fromStart = Math.abs(note.onset - at);
      const fromEnd = Math.abs(note.onset + note.duration - at);
      if (Math.min(fromStart, fromEnd) > within) continue;
      put(fromStart < fromEnd ? starts : ends, partId, note.id);
    }
  }
  return ends.size > 0 && starts.size > 0 ? { at: ticks(Math.round(at)), ends, starts } : null;
};

/**
 * Moves a shared edge, each end and start by the same, so that they stay as near to each other as they were played; no
 * further than leaves every note a tick. Null where nothing moves.
 */
export const moveSharedEdge = (
  arrangement: Arrangement,
  { ends, starts }: Pick<SharedEdge, 'ends' | 'starts'>,
  byTicks: number,
): Edit | null => {
  let by = Math.round(byTicks);
  for (const part of arrangement.parts) {
    const [ending, beginning] = [selectedIn(ends, part.id), selectedIn(starts, part.id)];
    for (const note of part.notes) {
      if (ending.has(note.id)) by = Math.max(by, Math.min(0, 1 - note.duration));
      if (beginning.has(note.id)) by = Math.max(-note.onset, Math.min(by, Math.max(0, note.duration - 1)));
    }
  }
  if (by === 0) return null;
  return editSelected('Move shared edge', arrangement, unionOf(ends, starts), (note, part) =>
    selectedIn(ends, part.id).has(note.id)
      ? { ...note, duration: ticks(note.duration + by) }
      : { ...note, onset: ticks(note.onset + by), duration: ticks(endOf(note) - note.onset - by) },
  );
};
