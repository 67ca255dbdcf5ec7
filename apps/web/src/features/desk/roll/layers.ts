/** What the roll draws for each part: Played before the crease, Written after it, and where the two differ. */
import { type Note, type Part, rescaleTicks, WRITTEN_PPQ } from '@crispfold/core';
import type { WrittenLayer } from '../../../engine/protocol.js';
import { createNoteIndex, type NoteIndex } from './noteIndex.js';

/** A note ready to draw, in ticks. */
export interface RollNote {
  readonly id: number;
  readonly pitch: number;
  readonly onset: number;
  readonly duration: number;
  readonly velocity: number;
  readonly muted: boolean;
}

/** A part's two layers. */
export interface RollPart {
  readonly partId: number;
  readonly played: NoteIndex<RollNote>;
  readonly written: NoteIndex<RollNote>;
  /** Written notes that differ from their Played note. */
  readonly differing: NoteIndex<RollNote>;
}

const playedCache = new WeakMap<Part['notes'], NoteIndex<RollNote>>();
const writtenCache = new WeakMap<
  WrittenLayer,
  { readonly ppq: number; readonly notes: Part['notes']; readonly laidOut: RollPart }
>();

/** A Played note ready to draw. */
export const asRollNote = ({ id, pitch, onset, duration, velocity, muted = false }: Note): RollNote => ({
  id,
  pitch,
  onset,
  duration,
  velocity,
  muted,
});

const playedOf = (part: Part): NoteIndex<RollNote> => {
  let index = playedCache.get(part.notes);
  if (!index) {
    index = createNoteIndex(part.notes.map(asRollNote));
    playedCache.set(part.notes, index);
  }
  return index;
};

const EMPTY: NoteIndex<RollNote> = createNoteIndex([]);

/**
 * Lays out one part; the same notes give the same record. The Written layer may be a moment old. Where `only` some notes
 * are seen, those that the plan made of them are.
 */
export const layOut = (
  part: Part,
  layer: WrittenLayer | undefined,
  ppq: number,
  only: ReadonlySet<number> | undefined = undefined,
): RollPart => {
  const played = playedOf(part);
  if (!layer) return { partId: part.id, played, written: EMPTY, differing: EMPTY };
  const known = writtenCache.get(layer);
  if (known && known.ppq === ppq && known.notes === part.notes) return known.laidOut;
  const byId = new Map(part.notes.map((note) => [note.id, note]));
  const seen = only ? layer.notes.filter(({ sources }) => sources.some((id) => only.has(id))) : layer.notes;
  const notes = seen.map((note): RollNote => {
    const onset = rescaleTicks(note.onset, WRITTEN_PPQ, ppq);
    const end = rescaleTicks(note.onset + note.duration, WRITTEN_PPQ, ppq);
    return { id: note.id, pitch: note.pitch, onset, duration: end - onset, velocity: note.velocity, muted: false };
  });
  const differs = notes.filter((note) => {
    const before = byId.get(note.id);
    return !before || before.onset !== note.onset || before.duration !== note.duration || before.pitch !== note.pitch;
  });
  const laidOut = { partId: part.id, played, written: createNoteIndex(notes), differing: createNoteIndex(differs) };
  writtenCache.set(layer, { ppq, notes: part.notes, laidOut });
  return laidOut;
};
