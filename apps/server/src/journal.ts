/** The journal of one arrangement: carrying out its lines, and finding the Edits of its history again by their places. */
import {
  type Arrangement,
  applyEdit,
  type HistoryEntry,
  invertEdit,
  type JournalEntry,
  type KeptEdit,
  notesTouched,
} from '@crispfold/core';
import { and, asc, eq, gt, gte, isNotNull, lt, lte, sql } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { journal } from './db/schema.js';
import { packedEntry, unpackedEntry } from './packing.js';

/** An arrangement with where its history stands: `position` of `length` entries are in force. */
export interface Standing {
  readonly arrangement: Arrangement;
  readonly position: number;
  readonly length: number;
}

/** A row of the journal's table. */
export type JournalRow = typeof journal.$inferSelect;

type Db = Pick<LibSQLDatabase, 'select'>;

/** So many rows, and so many bytes of them, are read in one go: a journal may be larger than memory. */
const MOST_ROWS = 64;
const MOST_BYTES = 4 * 1024 * 1024;

/** What a row holds, whether it was written before rows were packed or after. */
export const entryOf = async ({ entry, packed }: Pick<JournalRow, 'entry' | 'packed'>): Promise<JournalEntry> =>
  packed ? unpackedEntry(packed) : (JSON.parse(entry) as JournalEntry);

/** Its size on disk, as SQL. */
const bytes = sql<number>`coalesce(length(${journal.packed}), length(${journal.entry}))`;

/** The newest row at each place [from, to) as the history was at a revision: its revision, label and size. */
const rowsByPlace = (db: Db, id: string, revision: number, from: number, to: number) =>
  db
    .select({
      place: journal.place,
      revision: sql<number>`max(${journal.revision})`,
      label: journal.label,
      touched: journal.touched,
      bytes,
    })
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
    .groupBy(journal.place)
    .orderBy(asc(journal.place));

/** The history's entries at places [from, to) by name alone. */
export const entriesInTable = async (
  db: Db,
  id: string,
  revision: number,
  from: number,
  to: number,
): Promise<HistoryEntry[]> =>
  to <= from
    ? []
    : (await rowsByPlace(db, id, revision, from, to)).map(({ label, touched }) => ({
        label: label ?? '',
        touched: touched ?? 0,
        edit: null,
      }));

/**
 * How many entries from the first of [from, to) on, or from the last back, are sent in one go: at least one, as long as they
 * touch no more than `most` notes together. A row that was not counted yet is judged by its size.
 */
export const fittingInTable = async (
  db: Db,
  id: string,
  revision: number,
  [from, to]: readonly [from: number, to: number],
  lastFirst: boolean,
  most: number,
): Promise<number> => {
  if (to <= from) return 0;
  const rows = await rowsByPlace(db, id, revision, from, to);
  if (lastFirst) rows.reverse();
  let room = most;
  let count = 0;
  for (const row of rows) {
    room -= 1 + (row.touched ?? row.bytes / BYTES_A_NOTE);
    if (count > 0 && room < 0) break;
    count += 1;
  }
  return count;
};

/** About what a note that changed takes in a row that is not packed. */
const BYTES_A_NOTE = 150;

/**
 * Gives the Edits at places [from, to) one handful after another, from the first on or from the last back; each handful
 * begins at `first` and is in the order of the history. Ends where `take` answers 'enough'.
 */
export type EditsAt = (
  from: number,
  to: number,
  backwards: boolean,
  take: (edits: readonly KeptEdit[], first: number) => unknown,
) => Promise<void>;

/** Rows in handfuls that are small enough to be read in one go. */
const inHandfuls = <Row extends { readonly bytes: number }>(rows: readonly Row[]): Row[][] => {
  const handfuls: Row[][] = [];
  let size = 0;
  for (const row of rows) {
    const last = handfuls[handfuls.length - 1];
    if (last && last.length < MOST_ROWS && size + row.bytes <= MOST_BYTES) {
      last.push(row);
      size += row.bytes;
    } else {
      handfuls.push([row]);
      size = row.bytes;
    }
  }
  return handfuls;
};

/** The Edits of some rows, in the order of the history. */
const editsOf = async (db: Db, id: string, revisions: readonly number[]): Promise<KeptEdit[]> => {
  const wanted = sql.join(
    revisions.map((revision) => sql`${revision}`),
    sql`, `,
  );
  const found = await db
    .select({ entry: journal.entry, packed: journal.packed })
    .from(journal)
    .where(and(eq(journal.arrangementId, id), sql`${journal.revision} in (${wanted})`))
    .orderBy(asc(journal.place));
  const edits: KeptEdit[] = [];
  for (const row of found) {
    const entry = await entryOf(row);
    if (entry.kind === 'edit') edits.push(entry.edit);
  }
  return edits;
};

/** Reads the Edits of a history from the table as it was at a revision: of several at one place the newest counts. */
export const editsInTable =
  (db: Db, id: string, revision: number): EditsAt =>
  async (from, to, backwards, take) => {
    if (to <= from) return;
    const rows = await rowsByPlace(db, id, revision, from, to);
    if (rows.length < to - from) throw new Error(`The history of ${id} has a hole between ${from} and ${to}.`);
    for (const handful of inHandfuls(backwards ? rows.reverse() : rows)) {
      const first = Math.min(...handful.map(({ place }) => place));
      const edits = await editsOf(
        db,
        id,
        handful.map((row) => row.revision),
      );
      if (take(edits, first) === 'enough') return;
    }
  };

/** Edits at places [from, to), from the first on or from the last back, as many as are `most` characters of JSON together. */
export const editsWithin = async (
  editsAt: EditsAt,
  from: number,
  to: number,
  backwards: boolean,
  most: number,
): Promise<{ readonly edits: readonly KeptEdit[]; readonly left: number }> => {
  const edits: KeptEdit[] = [];
  let left = most;
  await editsAt(from, to, backwards, (some) => {
    for (const edit of backwards ? [...some].reverse() : some) {
      left -= JSON.stringify(edit).length;
      if (left < 0) return 'enough';
      edits.push(edit);
    }
    return undefined;
  });
  return { edits, left: Math.max(0, left) };
};

/** The lines after a revision, in handfuls. */
export const linesAfter = async (
  db: Db,
  id: string,
  after: number,
  take: (entries: readonly JournalEntry[]) => Promise<void>,
): Promise<void> => {
  const own = eq(journal.arrangementId, id);
  const rows = await db
    .select({ revision: journal.revision, bytes })
    .from(journal)
    .where(and(own, gt(journal.revision, after)))
    .orderBy(asc(journal.revision));
  for (const handful of inHandfuls(rows)) {
    const found = await db
      .select({ entry: journal.entry, packed: journal.packed })
      .from(journal)
      .where(
        and(
          own,
          gte(journal.revision, handful[0]?.revision ?? 0),
          lte(journal.revision, handful[handful.length - 1]?.revision ?? 0),
        ),
      )
      .orderBy(asc(journal.revision));
    const entries: JournalEntry[] = [];
    for (const row of found) entries.push(await entryOf(row));
    await take(entries);
  }
};

/** What a line of the journal is stored as, besides its revision and time. */
export type Line = Pick<JournalRow, 'packed' | 'place' | 'label' | 'touched'>;

/** How many notes an entry changes: what it costs to carry it out again. */
export const costOf = (entry: JournalEntry): number => {
  if (entry.kind !== 'edit') return 1;
  let cost = 1 + notesTouched(entry.edit);
  for (const change of entry.edit.changes) {
    if (change.kind === 'partAdded') cost += change.part.notes.length + change.part.events.length;
    if (change.kind === 'events') cost += change.added.length + change.removed.length + change.changed.length;
  }
  return cost;
};

/** Carries out lines one after another; answers how it stands then. */
export const carryOut = async (
  start: Standing,
  entries: readonly JournalEntry[],
  editsAt: EditsAt,
): Promise<Standing> => {
  let { arrangement, position, length } = start;
  /** Edits of these lines, by their places: the table does not have them yet. */
  const fresh = new Map<number, KeptEdit>();
  for (const entry of entries) {
    if (entry.kind === 'edit') {
      arrangement = applyEdit(arrangement, entry.edit);
      fresh.set(position, entry.edit);
      position += 1;
      length = position;
      continue;
    }
    const target = Math.max(0, Math.min(entry.position, length));
    const forward = target > position;
    const [low, high] = [Math.min(position, target), Math.max(position, target)];
    const apply = (edits: readonly KeptEdit[]) => {
      if (forward) for (const edit of edits) arrangement = applyEdit(arrangement, edit);
      else for (const edit of [...edits].reverse()) arrangement = applyEdit(arrangement, invertEdit(edit));
    };
    // Places of these lines lie together, above those of the table.
    const firstFresh = Math.min(high, ...[...fresh.keys()].filter((place) => place >= low));
    const own = () =>
      apply(Array.from({ length: high - firstFresh }, (_, at) => fresh.get(firstFresh + at) as KeptEdit));
    if (!forward) own();
    await editsAt(low, firstFresh, !forward, apply);
    if (forward) own();
    position = target;
  }
  return { arrangement, position, length };
};

/** The lines as they are stored; `start` is where the history stands before them. */
export const linesOf = async (
  start: Pick<Standing, 'position' | 'length'>,
  entries: readonly JournalEntry[],
): Promise<readonly Line[]> => {
  let { position, length } = start;
  const lines: Line[] = [];
  for (const entry of entries) {
    const packed = await packedEntry(entry);
    if (entry.kind === 'edit') {
      lines.push({ packed, place: position, label: entry.edit.label, touched: notesTouched(entry.edit) });
      position += 1;
      length = position;
    } else {
      position = Math.max(0, Math.min(entry.position, length));
      lines.push({ packed, place: position, label: null, touched: null });
    }
  }
  return lines;
};
