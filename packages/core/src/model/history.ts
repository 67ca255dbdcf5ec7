/** The history: named entries and a pointer. Undo and redo are entries of the journal too, so the record is complete. */
import type { Arrangement } from './arrangement.js';
import { applyEdit, type Edit, invertEdit } from './edit.js';

/** One line of the journal: a new Edit, or a move of the pointer to stand after `position` entries. */
export type JournalEntry =
  | { readonly kind: 'edit'; readonly edit: Edit }
  | { readonly kind: 'goTo'; readonly position: number };

/**
 * The entries that can be undone or redone. `skipped` older ones are not at hand, but on disk; `position` of all entries,
 * those skipped among them, are in force.
 */
export interface History {
  readonly entries: readonly Edit[];
  readonly position: number;
  readonly skipped: number;
}

/** A history with nothing in it. */
export const EMPTY_HISTORY: History = { entries: [], position: 0, skipped: 0 };

/** An arrangement with its history. */
export interface Record {
  readonly arrangement: Arrangement;
  readonly history: History;
}

/** How many entries there are, those not at hand among them. */
export const historyLength = ({ entries, skipped }: History): number => skipped + entries.length;

/** The entry at a place, from 0; undefined where it is not at hand. */
export const entryAt = ({ entries, skipped }: History, place: number): Edit | undefined => entries[place - skipped];

/**
 * Carries out one journal entry. A new Edit drops what was undone before it; a position is kept within the entries at
 * hand.
 */
export const applyJournalEntry = ({ arrangement, history }: Record, entry: JournalEntry): Record => {
  const { skipped, position } = history;
  if (entry.kind === 'edit') {
    const entries = [...history.entries.slice(0, position - skipped), entry.edit];
    return {
      arrangement: applyEdit(arrangement, entry.edit),
      history: { entries, position: skipped + entries.length, skipped },
    };
  }
  const target = Math.max(skipped, Math.min(entry.position, historyLength(history)));
  let result = arrangement;
  for (let at = position; at < target; at += 1) result = applyEdit(result, entryAt(history, at) as Edit);
  for (let at = position; at > target; at -= 1) {
    result = applyEdit(result, invertEdit(entryAt(history, at - 1) as Edit));
  }
  return { arrangement: result, history: { ...history, position: target } };
};

/** The history with older entries put before those at hand; they must end where those begin. */
export const withOlderEntries = (history: History, older: readonly Edit[]): History => ({
  ...history,
  entries: [...older, ...history.entries],
  skipped: history.skipped - older.length,
});
