/** Ways of walking through notes that several steps share. */

import { compareNotes, type NoteId } from '../model/arrangement.js';
import { createIdTable } from '../model/idTable.js';
import type { StepNote } from './stepNote.js';

/** Lists that are known to be in order and to hold no muted note: what one step hands on, the next need not look through. */
const ready = new WeakSet<readonly StepNote[]>();

/** The notes that steps act on, in order; muted notes are set aside. Neither list is to be changed. */
export const splitMuted = (notes: readonly StepNote[]): { active: readonly StepNote[]; muted: readonly StepNote[] } => {
  if (ready.has(notes)) return { active: notes, muted: [] };
  const active: StepNote[] = [];
  const muted: StepNote[] = [];
  for (const note of notes) (note.muted ? muted : active).push(note);
  sorted(active);
  ready.add(active);
  return { active, muted };
};

/** Notes by pitch, each list in order of onset. */
export const byPitch = (sorted: readonly StepNote[]): Map<number, StepNote[]> => {
  const groups = new Map<number, StepNote[]>();
  for (const note of sorted) {
    const group = groups.get(note.pitch);
    if (group) group.push(note);
    else groups.set(note.pitch, [note]);
  }
  return groups;
};

/** Notes by voice on their staff, each list in order of onset; one list where voices were not separated. */
export const byVoice = (sorted: readonly StepNote[]): StepNote[][] => {
  const groups = new Map<number, StepNote[]>();
  for (const note of sorted) {
    const key = (note.staff ?? 1) * 16 + (note.voice ?? 1);
    const group = groups.get(key);
    if (group) group.push(note);
    else groups.set(key, [note]);
  }
  return [...groups.values()];
};

/** Runs of notes with the very same onset. */
export const byOnset = (sorted: readonly StepNote[]): StepNote[][] => {
  const groups: StepNote[][] = [];
  let first = 0;
  for (let index = 1; index <= sorted.length; index += 1) {
    if (sorted[index]?.onset === (sorted[first] as StepNote).onset) continue;
    // A list that grows by pushing keeps room for sixteen more; most groups are of one note.
    groups.push(index === first + 1 ? [sorted[first] as StepNote] : sorted.slice(first, index));
    first = index;
  }
  return groups;
};

/** The notes after changes, in order: those changed as they are now (a later change counts), those taken out left out. */
export const withChanges = (
  active: readonly StepNote[],
  muted: readonly StepNote[],
  changes: readonly { readonly noteId: NoteId; readonly to: StepNote | null }[],
): readonly StepNote[] => {
  return inOrder(changedInOrder(active, changes) ?? changedById(active, changes), muted);
};

type Changes = Parameters<typeof withChanges>[2];

/** The notes after changes that come in the order of the notes, one a note; null where they do not. */
const changedInOrder = (active: readonly StepNote[], changes: Changes): StepNote[] | null => {
  const result: StepNote[] = [];
  let next = 0;
  for (const note of active) {
    const change = changes[next];
    if (change?.noteId !== note.id) {
      result.push(note);
      continue;
    }
    next += 1;
    if (change.to) result.push(change.to);
  }
  return next === changes.length ? result : null;
};

const changedById = (active: readonly StepNote[], changes: Changes): StepNote[] => {
  const now = createIdTable<StepNote | null>(changes);
  for (const { noteId, to } of changes) now.set(noteId, to);
  const result: StepNote[] = [];
  for (const note of active) {
    const to = now.get(note.id);
    if (to !== null) result.push(to ?? note);
  }
  return result;
};

/** Notes in order again, muted ones with them. */
export const inOrder = (active: StepNote[], muted: readonly StepNote[]): readonly StepNote[] => {
  if (muted.length > 0) return sorted([...active, ...muted]);
  ready.add(sorted(active));
  return active;
};

/** So many places back a note is put by hand before a general sort takes over. */
const STRAYS = 24;

/** Sorts in place. Most steps hand notes on in order or nearly: what strayed a few places is put back where it belongs. */
const sorted = (notes: StepNote[]): StepNote[] => {
  for (let index = 1; index < notes.length; index += 1) {
    const note = notes[index] as StepNote;
    let before = notes[index - 1] as StepNote;
    if (before.onset < note.onset || compareNotes(before, note) <= 0) continue;
    let at = index;
    while (at > 0 && compareNotes(before, note) > 0) {
      if (index - at > STRAYS) {
        notes[at] = note;
        return notes.sort(compareNotes);
      }
      notes[at] = before;
      at -= 1;
      before = notes[at - 1] as StepNote;
    }
    notes[at] = note;
  }
  return notes;
};
