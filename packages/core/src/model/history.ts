/** The history: named entries and a pointer. Undo and redo are entries of the journal too, so the record is complete. */
import type { Arrangement } from './arrangement.js';
import { applyEdit, type Edit, invertEdit } from './edit.js';

/** One line of the journal: a new Edit, or a move of the pointer to stand after `position` entries. */
export type JournalEntry =
  | { readonly kind: 'edit'; readonly edit: Edit }
  | { readonly kind: 'goTo'; readonly position: number };

/** The entries that can be undone or redone; `position` of them are in force. */
export interface History {
  readonly entries: readonly Edit[];
  readonly position: number;
}

/** A history with nothing in it. */
export const EMPTY_HISTORY: History = { entries: [], position: 0 };

/** An arrangement with its history. */
export interface Record {
  readonly arrangement: Arrangement;
  readonly history: History;
}

/** Carries out one journal entry. A new Edit drops what was undone before it; a position is kept within the entries. */
export const applyJournalEntry = ({ arrangement, history }: Record, entry: JournalEntry): Record => {
  if (entry.kind === 'edit') {
    const entries = [...history.entries.slice(0, history.position), entry.edit];
    return { arrangement: applyEdit(arrangement, entry.edit), history: { entries, position: entries.length } };
  }
  const target = Math.max(0, Math.min(entry.position, history.entries.length));
  let result = arrangement;
  for (let at = history.position; at < target; at += 1) result = applyEdit(result, history.entries[at] as Edit);
  for (let at = history.position; at > target; at -= 1) {
    result = applyEdit(result, invertEdit(history.entries[at - 1] as Edit));
  }
  return { arrangement: result, history: { ...history, position: target } };
};

/** The history alone, folded from a journal (the arrangement is not touched). */
export const foldHistory = (history: History, entry: JournalEntry): History => {
  if (entry.kind === 'goTo') {
    return { ...history, position: Math.max(0, Math.min(entry.position, history.entries.length)) };
  }
  const entries = [...history.entries.slice(0, history.position), entry.edit];
  return { entries, position: entries.length };
};
