/** The history: named entries and a pointer. Undo and redo are entries of the journal too, so the record is complete. */
import type { Arrangement } from './arrangement.js';
import { applyEdit, invertEdit, type KeptEdit, notesTouched } from './edit.js';

/** One line of the journal: a new Edit, or a move of the pointer to stand after `position` entries. */
export type JournalEntry =
  | { readonly kind: 'edit'; readonly edit: KeptEdit }
  | { readonly kind: 'goTo'; readonly position: number };

/** An entry by its name, and how many notes it touched; its Edit is null where it lies on disk alone. */
export interface HistoryEntry {
  readonly label: string;
  readonly touched: number;
  readonly edit: KeptEdit | null;
}

/** The entry of an Edit. */
export const historyEntry = (edit: KeptEdit): HistoryEntry => ({
  label: edit.label,
  touched: notesTouched(edit),
  edit,
});

/**
 * The entries that can be undone or redone. `skipped` older ones are not at hand, but on disk; `position` of all entries,
 * those skipped among them, are in force. Before `folded` the single changes are no longer kept.
 */
export interface History {
  readonly entries: readonly HistoryEntry[];
  readonly position: number;
  readonly skipped: number;
  /** So many of the oldest entries were folded away: nothing goes back beyond them. */
  readonly folded?: number | undefined;
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
export const entryAt = ({ entries, skipped }: History, place: number): HistoryEntry | undefined =>
  entries[place - skipped];

/** Places of entries between the pointer and a position whose Edits are not at hand: first and after the last; null for none. */
export const missingBetween = (
  history: History,
  position: number,
): { readonly from: number; readonly to: number } | null => {
  const [low, high] = [Math.min(history.position, position), Math.max(history.position, position)];
  let from = -1;
  let to = -1;
  for (let place = low; place < high; place += 1) {
    if (entryAt(history, place)?.edit) continue;
    if (from < 0) from = place;
    to = place + 1;
  }
  return from < 0 ? null : { from, to };
};

/**
 * Carries out one journal entry. A new Edit drops what was undone before it; the pointer goes no further than there are
 * Edits at hand.
 */
export const applyJournalEntry = ({ arrangement, history }: Record, entry: JournalEntry): Record => {
  const { skipped, position } = history;
  if (entry.kind === 'edit') {
    const entries = [...history.entries.slice(0, position - skipped), historyEntry(entry.edit)];
    return {
      arrangement: applyEdit(arrangement, entry.edit),
      history: { ...history, entries, position: skipped + entries.length },
    };
  }
  const target = Math.max(skipped, Math.min(entry.position, historyLength(history)));
  let result = arrangement;
  let at = position;
  for (; at < target; at += 1) {
    const edit = entryAt(history, at)?.edit;
    if (!edit) break;
    result = applyEdit(result, edit);
  }
  for (; at > target; at -= 1) {
    const edit = entryAt(history, at - 1)?.edit;
    if (!edit) break;
    result = applyEdit(result, invertEdit(edit));
  }
  return { arrangement: result, history: { ...history, position: at } };
};

/** The history with older entries put before those at hand; they must end where those begin. */
export const withOlderEntries = (history: History, older: readonly HistoryEntry[]): History => ({
  ...history,
  entries: [...older, ...history.entries],
  skipped: history.skipped - older.length,
});

/** The history with the Edits of some entries at hand, from a place on; an entry that has its own keeps it. */
export const withEdits = (history: History, from: number, edits: readonly KeptEdit[]): History => ({
  ...history,
  entries: history.entries.map((entry, index) => {
    const edit = edits[index + history.skipped - from];
    return edit && !entry.edit ? { ...entry, edit } : entry;
  }),
});

/**
 * The history without the Edits of entries far from the pointer, where those at hand touch more than `most` notes
 * together: they lie on disk, and are had again when they are gone back to.
 */
export const withoutFarEdits = (history: History, most: number): History => {
  const held = history.entries.reduce((sum, { edit, touched }) => sum + (edit ? touched + 1 : 0), 0);
  if (held <= most) return history;
  const at = history.position - history.skipped;
  let room = most / 2;
  const near = new Set<number>();
  for (let away = 0; away < history.entries.length; away += 1) {
    for (const index of away === 0 ? [at] : [at - away, at + away]) {
      const entry = history.entries[index];
      if (!entry || near.has(index)) continue;
      room -= entry.touched + 1;
      if (room >= 0 || near.size < LEAST_HELD) near.add(index);
    }
  }
  return {
    ...history,
    entries: history.entries.map((entry, index) => (entry.edit && !near.has(index) ? { ...entry, edit: null } : entry)),
  };
};

/** So many entries about the pointer keep their Edits, however large. */
const LEAST_HELD = 4;
