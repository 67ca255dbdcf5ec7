/** The journal of one arrangement: carrying out its lines, and finding the Edits of its history again by their places. */
import { type Arrangement, applyEdit, type Edit, invertEdit, type JournalEntry } from '@crispfold/core';
import { and, asc, eq, gte, isNotNull, lt, lte } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { journal } from './db/schema.js';

/** An arrangement with where its history stands: `position` of `length` entries are in force. */
export interface Standing {
  readonly arrangement: Arrangement;
  readonly position: number;
  readonly length: number;
}

/** A row of the journal's table. */
export type JournalRow = typeof journal.$inferSelect;

/** Finds the Edits at places [from, to), oldest first. */
export type EditsAt = (from: number, to: number) => Promise<readonly Edit[]>;

/** Reads Edits of a history from the table as it was at a revision: of several at one place the newest counts. */
export const editsInTable =
  (db: Pick<LibSQLDatabase, 'select'>, id: string, revision: number): EditsAt =>
  async (from, to) => {
    if (to <= from) return [];
    const rows = await db
      .select({ place: journal.place, entry: journal.entry })
      .from(journal)
      .where(
        and(
          eq(journal.arrangementId, id),
          isNotNull(journal.label),
          gte(journal.place, from),
          lt(journal.place, to),
          lte(journal.revision, revision),
        ),
      )
      .orderBy(asc(journal.revision));
    const newest = new Map(rows.map((row) => [row.place, row.entry]));
    return Array.from({ length: to - from }, (_, index) => {
      const entry = JSON.parse(newest.get(from + index) ?? 'null') as JournalEntry | null;
      if (entry?.kind !== 'edit') throw new Error(`The history of ${id} has no entry at place ${from + index}.`);
      return entry.edit;
    });
  };

/** What a line of the journal is stored as, besides its revision and time. */
export type Line = Pick<JournalRow, 'entry' | 'place' | 'label'>;

/** Carries out lines one after another; answers how it stands then, and each line as it is stored. */
export const carryOut = async (
  start: Standing,
  entries: readonly JournalEntry[],
  editsAt: EditsAt,
): Promise<{ readonly standing: Standing; readonly lines: readonly Line[] }> => {
  let { arrangement, position, length } = start;
  const fresh = new Map<number, Edit>();
  const lines: Line[] = [];
  for (const entry of entries) {
    if (entry.kind === 'edit') {
      arrangement = applyEdit(arrangement, entry.edit);
      fresh.set(position, entry.edit);
      lines.push({ entry: JSON.stringify(entry), place: position, label: entry.edit.label });
      position += 1;
      length = position;
      continue;
    }
    const target = Math.max(0, Math.min(entry.position, length));
    const [low, high] = [Math.min(position, target), Math.max(position, target)];
    const places = Array.from({ length: high - low }, (_, index) => low + index);
    const older = places.filter((place) => !fresh.has(place));
    const stored = older.length > 0 ? await editsAt(older[0] as number, (older[older.length - 1] as number) + 1) : [];
    const edits = places.map((place) => fresh.get(place) ?? (stored[place - (older[0] ?? 0)] as Edit));
    if (target > position) for (const edit of edits) arrangement = applyEdit(arrangement, edit);
    else for (const edit of edits.reverse()) arrangement = applyEdit(arrangement, invertEdit(edit));
    position = target;
    lines.push({ entry: JSON.stringify(entry), place: target, label: null });
  }
  return { standing: { arrangement, position, length }, lines };
};
