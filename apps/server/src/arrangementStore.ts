/** Keeps arrangements: snapshot and journal on disk, the few last used ones in memory. */
import type { BinItem, Glance, KeptPointItem, LibraryItem, OpenArrangement, Saved } from '@crispfold/contract';
import {
  type Arrangement,
  editBetween,
  type HistoryEntry,
  type JournalEntry,
  type KeptEdit,
  keptText,
  LARGEST_HISTORY_TAKEN,
  LONGEST_PART_NAME,
  MOST_HISTORY_BYTES,
  problemOfChange,
  STORED_FORM,
} from '@crispfold/core';
import { and, desc, eq, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { LRUCache } from 'lru-cache';
import PQueue from 'p-queue';
import type { Archive } from './archive.js';
import { arrangements, journal, snapshots, writes } from './db/schema.js';
import { addSnapshot, foldHistory, keptPoints } from './folding.js';
import {
  carryOut,
  costOf,
  editsInTable,
  editsWithin,
  entriesInTable,
  entryOf,
  fittingInTable,
  linesAfter,
  linesOf,
  type Standing,
} from './journal.js';
import { shareRecordings } from './keeping/recordingStore.js';
import { newId } from './newId.js';
import { packed, unpacked } from './packing.js';
import { beforeFold, HttpProblem, inTheBin, notFound } from './problems.js';
import { type Summary, summaryOf } from './summary.js';
import { upgradeStored } from './upgradeStored.js';

/** A snapshot is made after so many lines at the latest… */
const SNAPSHOT_EVERY = 200;
/** …or when carrying out the lines since the last would cost as much as so many notes, or so many times all notes. */
const SNAPSHOT_COST = { notes: 40_000, times: 4 };
/** So many of the newest entries of the history are named when an arrangement opens; more on asking. */
const ENTRIES_AT_OPENING = 100;
/** So many entries at a time are named of what lies before. */
const ENTRIES_A_PAGE = 200;
/** Edits of the history are sent until they are this large together (notes touched), at least one. */
const EDITS_A_PAGE = 60_000;
const KEPT_IN_MEMORY = 4;
const BIN_DAYS = 30;
/** So many rows are written in one statement. */
const ROWS_AT_ONCE = 100;
/** A request is known again for so long. */
const WRITES_KNOWN_HOURS = 48;

/** What a copy is called after its original. */
const COPY = ', copy';

/** A transaction that is open. */
type Writing = Parameters<Parameters<LibSQLDatabase['transaction']>[0]>[0];

interface Held {
  readonly standing: Standing;
  readonly revision: number;
  readonly changedAt: string;
  readonly folded: number;
  /** Lines since the newest snapshot, and what carrying them out costs. */
  readonly since: { readonly lines: number; readonly cost: number };
}

/** A write that is carried out, or was when its request came before. */
export interface Written extends Saved {
  /** True where it was carried out before. */
  readonly known: boolean;
}

const itemOf = (row: typeof arrangements.$inferSelect): LibraryItem => ({
  id: row.id,
  changedAt: row.changedAt,
  tags: JSON.parse(row.tags) as string[],
  glance: row.glance
    ? { ...(JSON.parse(row.glance) as Glance), changedSince: row.glanceRevision !== row.revision }
    : null,
  ...(JSON.parse(row.summary) as Summary),
});

/** All that the routes do with arrangements. Writes to one arrangement go one after another. */
export class ArrangementStore {
  private readonly held = new LRUCache<string, Held>({ max: KEPT_IN_MEMORY });
  /** One line for each arrangement that is being read or written: they take turns. */
  private readonly lines = new Map<string, PQueue>();

  /** `mostHistory` is the size to which a history is kept whole, in bytes on disk. */
  constructor(
    private readonly db: LibSQLDatabase,
    private readonly mostHistory = MOST_HISTORY_BYTES,
  ) {}

  /** The library, last changed first. */
  async list(): Promise<LibraryItem[]> {
    const rows = await this.db
      .select()
      .from(arrangements)
      .where(isNull(arrangements.deletedAt))
      .orderBy(desc(arrangements.changedAt));
    return rows.map(itemOf);
  }

  /** What lies in the bin, deleted last first. */
  async bin(): Promise<BinItem[]> {
    const rows = await this.db
      .select()
      .from(arrangements)
      .where(isNotNull(arrangements.deletedAt))
      .orderBy(desc(arrangements.deletedAt));
    return rows.map((row) => {
      const deletedAt = row.deletedAt ?? row.changedAt;
      const goesAt = new Date(new Date(deletedAt).getTime() + BIN_DAYS * 86_400_000).toISOString();
      return { ...itemOf(row), deletedAt, goesAt };
    });
  }

  /** Sets the words by which it is found; each is kept once. */
  async tag(id: string, tags: readonly string[]): Promise<void> {
    const once = [...new Map(tags.map((tag) => [tag.toLowerCase(), tag])).values()];
    const changed = await this.db
      .update(arrangements)
      .set({ tags: JSON.stringify(once) })
      .where(eq(arrangements.id, id))
      .returning({ id: arrangements.id });
    if (changed.length === 0) throw notFound();
  }

  /** Keeps what the Desk found when it looked the newest revision through. */
  async glance(id: string, glance: Glance): Promise<void> {
    const changed = await this.db
      .update(arrangements)
      .set({ glance: JSON.stringify(glance), glanceRevision: sql`${arrangements.revision}` })
      .where(eq(arrangements.id, id))
      .returning({ id: arrangements.id });
    if (changed.length === 0) throw notFound();
  }

  /** Deletes for good what lies in the bin; nothing else is deleted so. */
  async removeForGood(id: string): Promise<void> {
    await this.inTurn(id, async () => {
      const gone = await this.db
        .delete(arrangements)
        .where(and(eq(arrangements.id, id), isNotNull(arrangements.deletedAt)))
        .returning({ id: arrangements.id });
      if (gone.length === 0) throw notFound();
      this.held.delete(id);
    });
  }

  /** Adds a new arrangement and returns its id. */
  async create(arrangement: Arrangement): Promise<string> {
    const { id, changedAt } = await this.createPacked(
      await packed(arrangement),
      JSON.stringify(summaryOf(arrangement)),
    );
    this.held.set(id, {
      standing: { arrangement, position: 0, length: 0 },
      revision: 0,
      changedAt,
      folded: 0,
      since: { lines: 0, cost: 0 },
    });
    return id;
  }

  /**
   * As {@link create}, of what is packed already; a request that came before is answered as the first time. `also` is written
   * in the same transaction, for the new id.
   */
  async createPacked(
    data: Uint8Array,
    summary: string,
    requestId?: string,
    also: (tx: Writing, id: string) => Promise<void> = async () => undefined,
  ): Promise<{ readonly id: string; readonly changedAt: string; readonly known: boolean }> {
    const known = await this.writtenBefore(requestId);
    if (known) return { id: known.arrangementId, changedAt: known.writtenAt, known: true };
    const id = newId();
    const now = new Date().toISOString();
    await this.db.transaction(async (tx) => {
      await tx.insert(arrangements).values({
        id,
        summary,
        revision: 0,
        form: STORED_FORM,
        createdAt: now,
        changedAt: now,
      });
      await tx
        .insert(snapshots)
        .values({ arrangementId: id, revision: 0, data: '', packed: Buffer.from(data), writtenAt: now });
      if (requestId) await tx.insert(writes).values({ requestId, arrangementId: id, revision: 0, writtenAt: now });
      await also(tx, id);
    });
    return { id, changedAt: now, known: false };
  }

  /** The arrangement with the newest entries of its history, by name. */
  async open(id: string): Promise<OpenArrangement> {
    return this.inTurn(id, async () => {
      const { standing, revision, changedAt, folded } = await this.hold(id);
      const { arrangement, position, length } = standing;
      const skipped = Math.max(folded, Math.min(length - ENTRIES_AT_OPENING, position - 1));
      const entries = await entriesInTable(this.db, id, revision, skipped, length);
      return { id, revision, changedAt, arrangement, history: { entries, position, skipped, folded } };
    });
  }

  /** Entries of the history that end just before a place, oldest first, by name. */
  async historyBefore(id: string, place: number): Promise<readonly HistoryEntry[]> {
    return this.inTurn(id, async () => {
      const { standing, revision, folded } = await this.hold(id);
      const to = Math.min(place, standing.length);
      return entriesInTable(this.db, id, revision, Math.max(folded, to - ENTRIES_A_PAGE), to);
    });
  }

  /** Edits of the history at places [from, to), or the first or last of them where they are large; and where they begin. */
  async edits(
    id: string,
    from: number,
    to: number,
    lastFirst: boolean,
  ): Promise<{ readonly from: number; readonly edits: readonly KeptEdit[] }> {
    return this.inTurn(id, async () => {
      const { standing, revision, folded } = await this.hold(id);
      const [low, high] = [Math.max(folded, from), Math.min(to, standing.length)];
      const fitting = await fittingInTable(this.db, id, revision, [low, high], lastFirst, EDITS_A_PAGE);
      const count = Math.min(fitting, ENTRIES_A_PAGE);
      const first = lastFirst ? high - count : low;
      const edits: KeptEdit[] = [];
      await editsInTable(this.db, id, revision)(first, first + count, false, (some) => edits.push(...some));
      return { from: first, edits };
    });
  }

  /**
   * Adds entries to the journal, on disk in one transaction before it answers. Fails with 409 where another window has
   * written since `baseRevision`. A request that came before is answered as the first time.
   */
  async append(
    id: string,
    baseRevision: number,
    entries: readonly JournalEntry[],
    requestId?: string,
  ): Promise<Written> {
    return this.update(id, baseRevision, () => entries, requestId);
  }

  /** As {@link append}, with entries made from the arrangement as it stands; no base revision asks for whatever is newest. */
  async update(
    id: string,
    baseRevision: number | null,
    make: (arrangement: Arrangement) => readonly JournalEntry[] | Promise<readonly JournalEntry[]>,
    requestId?: string,
  ): Promise<Written> {
    return this.inTurn(id, async () => {
      const before = await this.writtenBefore(requestId);
      if (before) return { revision: before.revision, changedAt: before.writtenAt, known: true };
      const held = await this.hold(id);
      if (baseRevision !== null && baseRevision !== held.revision) {
        throw new HttpProblem(
          409,
          'changedElsewhere',
          'This arrangement was changed in another window. Reload to see it, or take over to put your change on top.',
        );
      }
      const entries = await make(held.standing.arrangement);
      const lowest = Math.min(...entries.map((entry) => (entry.kind === 'goTo' ? entry.position : held.folded)));
      if (lowest < held.folded) throw beforeFold();
      const standing = await carryOut(held.standing, entries, editsInTable(this.db, id, held.revision));
      const { arrangement, position, length } = standing;
      const problem = problemOfChange(held.standing.arrangement, arrangement);
      if (problem) throw new HttpProblem(422, problem.code, `${problem.message} Nothing was changed.`);
      const lines = await linesOf(held.standing, entries);
      const changedAt = new Date().toISOString();
      const revision = held.revision + entries.length;
      const cost = held.since.cost + entries.reduce((sum, entry) => sum + costOf(entry), 0);
      const count = held.since.lines + entries.length;
      const notes = arrangement.parts.reduce((sum, part) => sum + part.notes.length, 0);
      const due = count >= SNAPSHOT_EVERY || cost > Math.max(SNAPSHOT_COST.notes, SNAPSHOT_COST.times * notes);
      const snapshot = due ? await packed(arrangement) : null;
      await this.db.transaction(async (tx) => {
        await tx.insert(journal).values(
          lines.map((line, index) => ({
            arrangementId: id,
            revision: held.revision + index + 1,
            entry: '',
            ...line,
            writtenAt: changedAt,
          })),
        );
        await tx
          .update(arrangements)
          .set({ revision, position, length, changedAt, summary: JSON.stringify(summaryOf(arrangement)) })
          .where(eq(arrangements.id, id));
        if (requestId) await tx.insert(writes).values({ requestId, arrangementId: id, revision, writtenAt: changedAt });
        if (snapshot) await addSnapshot(tx, id, { revision, position, length, packed: snapshot, writtenAt: changedAt });
      });
      this.held.set(id, {
        standing,
        revision,
        changedAt,
        folded: held.folded,
        since: due ? { lines: 0, cost: 0 } : { lines: count, cost },
      });
      if (due) await this.fold(id);
      return { revision, changedAt, known: false };
    });
  }

  /** What a request to an arrangement led to; null where none of that name came. */
  async written(id: string, requestId: string): Promise<Saved | null> {
    const before = await this.inTurn(id, () => this.writtenBefore(requestId));
    return before?.arrangementId === id ? { revision: before.revision, changedAt: before.writtenAt } : null;
  }

  /** The points that are kept of what was folded away, oldest first. */
  async points(id: string): Promise<readonly KeptPointItem[]> {
    return this.inTurn(id, async () => {
      const { folded } = await this.hold(id);
      return folded === 0 ? [] : keptPoints(this.db, id, folded);
    });
  }

  /** Makes the arrangement again what it was at a kept point, as a change of its own that can be undone. */
  async backToPoint(id: string, revision: number, requestId?: string): Promise<Written & { readonly edit: KeptEdit }> {
    const written = await this.update(
      id,
      null,
      async (now) => {
        const [row] = await this.db
          .select()
          .from(snapshots)
          .where(and(eq(snapshots.arrangementId, id), eq(snapshots.revision, revision), eq(snapshots.kept, true)));
        if (!row?.packed) throw new HttpProblem(404, 'noPoint', 'This point of the history is no longer kept.');
        const then = await unpacked<Arrangement>(row.packed);
        return [{ kind: 'edit', edit: editBetween(`Back to the work after ${row.position} changes`, now, then) }];
      },
      requestId,
    );
    return { ...written, edit: (await this.editAt(id, written.revision)) as KeptEdit };
  }

  /** The Edit that a write made, where its request had one. */
  async editAt(id: string, revision: number): Promise<KeptEdit | undefined> {
    const [row] = await this.db
      .select({ entry: journal.entry, packed: journal.packed })
      .from(journal)
      .where(and(eq(journal.arrangementId, id), eq(journal.revision, revision)));
    const entry = row && (await entryOf(row));
    return entry?.kind === 'edit' ? entry.edit : undefined;
  }

  /**
   * The arrangement with the history that is kept of it: all of it, or as many changes around where it stands as are `most`
   * characters of JSON together.
   */
  async takeAway(id: string, most = LARGEST_HISTORY_TAKEN): Promise<Archive> {
    return this.inTurn(id, async () => {
      const { standing, revision, folded } = await this.hold(id);
      const { arrangement, position, length } = standing;
      const editsAt = editsInTable(this.db, id, revision);
      const undoable = await editsWithin(editsAt, folded, position, true, most);
      const rest = await editsWithin(editsAt, position, length, false, undoable.left);
      const before = [...undoable.edits].reverse();
      return { arrangement, entries: [...before, ...rest.edits], position: before.length };
    });
  }

  /** Brings back what was taken away, under a new id; a request that came before is answered as the first time. */
  async bringBack({ arrangement, entries, position }: Archive, requestId?: string): Promise<string> {
    const known = await this.writtenBefore(requestId);
    if (known) return known.arrangementId;
    const id = newId();
    const now = new Date().toISOString();
    const length = entries.length;
    const data = await packed(arrangement);
    const lines = await linesOf(
      { position: 0, length: 0 },
      entries.map((edit): JournalEntry => ({ kind: 'edit', edit })),
    );
    await this.db.transaction(async (tx) => {
      await tx.insert(arrangements).values({
        id,
        summary: JSON.stringify(summaryOf(arrangement)),
        revision: length,
        position,
        length,
        form: STORED_FORM,
        createdAt: now,
        changedAt: now,
      });
      for (let at = 0; at < lines.length; at += ROWS_AT_ONCE) {
        await tx.insert(journal).values(
          lines.slice(at, at + ROWS_AT_ONCE).map((line, index) => ({
            arrangementId: id,
            revision: at + index + 1,
            entry: '',
            ...line,
            writtenAt: now,
          })),
        );
      }
      await tx
        .insert(snapshots)
        .values({ arrangementId: id, revision: length, position, length, data: '', packed: data, writtenAt: now });
      if (requestId) await tx.insert(writes).values({ requestId, arrangementId: id, revision: length, writtenAt: now });
    });
    return id;
  }

  /** A copy under a new id, as it stands now, with a history of its own and the same recordings. */
  async duplicate(id: string): Promise<string> {
    return this.inTurn(id, async () => {
      const { arrangement } = (await this.hold(id)).standing;
      const copy = { ...arrangement, title: keptText(arrangement.title, LONGEST_PART_NAME - COPY.length) + COPY };
      const made = await this.createPacked(await packed(copy), JSON.stringify(summaryOf(copy)), undefined, (tx, to) =>
        shareRecordings(tx, id, to),
      );
      return made.id;
    });
  }

  /** Puts it in the bin, from which {@link restore} takes it back. */
  async remove(id: string): Promise<void> {
    await this.inTurn(id, async () => {
      await this.mark(id, new Date().toISOString());
      this.held.delete(id);
    });
  }

  /** Takes it out of the bin. */
  async restore(id: string): Promise<void> {
    await this.inTurn(id, () => this.mark(id, null));
  }

  /** Empties the bin of what has lain there for thirty days. */
  async emptyBin(now = new Date()): Promise<void> {
    const limit = new Date(now.getTime() - BIN_DAYS * 86_400_000).toISOString();
    await this.db.delete(arrangements).where(and(isNotNull(arrangements.deletedAt), lt(arrangements.deletedAt, limit)));
    const known = new Date(now.getTime() - WRITES_KNOWN_HOURS * 3_600_000).toISOString();
    await this.db.delete(writes).where(lt(writes.writtenAt, known));
  }

  /** Waits for writes under way. */
  async settle(): Promise<void> {
    await Promise.all([...this.lines.values()].map((line) => line.onIdle()));
  }

  private async mark(id: string, deletedAt: string | null): Promise<void> {
    const changed = await this.db
      .update(arrangements)
      .set({ deletedAt })
      .where(eq(arrangements.id, id))
      .returning({ id: arrangements.id });
    if (changed.length === 0) throw notFound();
  }

  private async hold(id: string): Promise<Held> {
    const known = this.held.get(id);
    if (known) return known;
    const [row] = await this.db.select().from(arrangements).where(eq(arrangements.id, id));
    if (!row) throw notFound();
    if (row.deletedAt !== null) throw inTheBin();
    if (row.form < STORED_FORM) await upgradeStored(this.db, id);
    const [snapshot] = await this.db
      .select()
      .from(snapshots)
      .where(eq(snapshots.arrangementId, id))
      .orderBy(desc(snapshots.revision))
      .limit(1);
    if (!snapshot) throw notFound();
    let standing: Standing = {
      arrangement: snapshot.packed ? await unpacked(snapshot.packed) : JSON.parse(snapshot.data),
      position: snapshot.position,
      length: snapshot.length,
    };
    let since = { lines: 0, cost: 0 };
    await linesAfter(this.db, id, snapshot.revision, async (entries) => {
      // A line that goes back finds what it goes back over in the table as it was then.
      const at = snapshot.revision + since.lines;
      standing = await carryOut(standing, entries, editsInTable(this.db, id, at));
      since = {
        lines: since.lines + entries.length,
        cost: since.cost + entries.reduce((sum, entry) => sum + costOf(entry), 0),
      };
    });
    const held = { standing, revision: row.revision, changedAt: row.changedAt, folded: row.folded, since };
    this.held.set(id, held);
    return held;
  }

  /** Keeps the history to its stated size: beyond it, its oldest entries are folded into the points that are kept. */
  private async fold(id: string): Promise<void> {
    const folded = await foldHistory(this.db, id, this.mostHistory);
    const held = this.held.get(id);
    if (folded !== null && held) this.held.set(id, { ...held, folded });
  }

  private async writtenBefore(requestId: string | undefined): Promise<typeof writes.$inferSelect | undefined> {
    if (!requestId) return undefined;
    const [row] = await this.db.select().from(writes).where(eq(writes.requestId, requestId));
    return row;
  }

  private async inTurn<Value>(id: string, work: () => Promise<Value>): Promise<Value> {
    const line = this.lines.get(id) ?? new PQueue({ concurrency: 1 });
    this.lines.set(id, line);
    try {
      return (await line.add(work)) as Value;
    } finally {
      if (line.size === 0 && line.pending === 0) this.lines.delete(id);
    }
  }
}
