/** Finds the notes in a stretch of time without walking all of them. */

import { firstIndexAtOrAfter, lastIndexAtOrBefore } from '@crispfold/core';

/** What the index needs of a note. */
export interface TimedNote {
  readonly id: number;
  readonly pitch: number;
  readonly onset: number;
  readonly duration: number;
}

/** Notes in order of onset, with the latest end up to each: where that lies before a stretch, nothing earlier reaches it. */
export interface NoteIndex<Item extends TimedNote> {
  readonly notes: readonly Item[];
  readonly latestEnd: Float64Array;
}

/** Builds the index; `notes` are in order of onset. */
export const createNoteIndex = <Item extends TimedNote>(notes: readonly Item[]): NoteIndex<Item> => {
  const latestEnd = new Float64Array(notes.length);
  let latest = 0;
  notes.forEach((note, index) => {
    latest = Math.max(latest, note.onset + note.duration);
    latestEnd[index] = latest;
  });
  return { notes, latestEnd };
};

/** Indices [first, last) of notes that may lie in [start, end]; those outside the pair surely do not. */
export const rangeOf = <Item extends TimedNote>(
  { notes, latestEnd }: NoteIndex<Item>,
  start: number,
  end: number,
): [number, number] => {
  const first = firstIndexAtOrAfter(latestEnd, start, (latest) => latest);
  const last = lastIndexAtOrBefore(notes, end, (note) => note.onset) + 1;
  return [first, Math.max(first, last)];
};

/** Notes that touch the box, in order. */
export const notesInBox = <Item extends TimedNote>(
  index: NoteIndex<Item>,
  box: { start: number; end: number; lowest: number; highest: number },
): Item[] => {
  const [first, last] = rangeOf(index, box.start, box.end);
  const found: Item[] = [];
  for (let at = first; at < last; at += 1) {
    const note = index.notes[at] as Item;
    if (note.pitch < box.lowest || note.pitch > box.highest || note.onset + note.duration < box.start) continue;
    found.push(note);
  }
  return found;
};

/** Notes that begin in the box, in order: what is drawn as a head without length. */
export const startsInBox = <Item extends TimedNote>(
  { notes }: NoteIndex<Item>,
  box: { start: number; end: number; lowest: number; highest: number },
): Item[] => {
  const found: Item[] = [];
  let at = firstIndexAtOrAfter(notes, box.start, (note) => note.onset);
  for (; at < notes.length; at += 1) {
    const note = notes[at] as Item;
    if (note.onset > box.end) break;
    if (note.pitch >= box.lowest && note.pitch <= box.highest) found.push(note);
  }
  return found;
};

/** The note of `pitch` at `tick`, the last drawn (latest start) first; `reach` widens notes to both sides, in ticks. */
export const noteAt = <Item extends TimedNote>(
  index: NoteIndex<Item>,
  pitch: number,
  tick: number,
  reach: number,
): Item | undefined => {
  const found = notesInBox(index, { start: tick - reach, end: tick + reach, lowest: pitch, highest: pitch });
  const inside = found.filter((note) => note.onset <= tick && note.onset + note.duration >= tick);
  return inside[inside.length - 1] ?? found[found.length - 1];
};
