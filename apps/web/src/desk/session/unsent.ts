/** Changes that an earlier visit made and that did not reach the server: which of them are in force, and how they are told. */
import type { JournalEntry, KeptEdit } from '@crispfold/core';

/** An entry with the place in the history at which it was made. */
export interface PlacedEntry {
  readonly entry: JournalEntry;
  /** So many entries of the history were in force before it. */
  readonly position: number;
}

/**
 * The Edits that are in force after some entries: what was undone among them is not, what was done again is. A move back
 * beyond the first of them leaves none in force.
 */
export const editsInForce = (entries: readonly PlacedEntry[]): readonly KeptEdit[] => {
  const base = entries[0]?.position ?? 0;
  let made: KeptEdit[] = [];
  let inForce = 0;
  for (const { entry } of entries) {
    if (entry.kind === 'edit') {
      made = [...made.slice(0, inForce), entry.edit];
      inForce = made.length;
    } else inForce = Math.max(0, Math.min(made.length, entry.position - base));
  }
  return made.slice(0, inForce);
};

/** "21:40" of today, "21:40 on 3 May" of another day. */
export const timeInWords = (iso: string, now = new Date()): string => {
  const then = new Date(iso);
  const time = then.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  if (then.toDateString() === now.toDateString()) return time;
  return `${time} on ${then.toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })}`;
};
