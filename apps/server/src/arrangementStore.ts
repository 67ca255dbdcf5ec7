/** Keeps arrangements: snapshot and journal on disk, the few last used ones in memory. */
import { randomInt } from 'node:crypto';
import type { LibraryItem, OpenArrangement, Saved } from '@crispfold/contract';
import {
  type Arrangement,
  barsOfRecording,
  createTempoMap,
  type Edit,
  type JournalEntry,
  lastTick,
  STORED_FORM,
} from '@crispfold/core';
import { and, asc, desc, eq, gt, isNotNull, isNull, lt } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { LRUCache } from 'lru-cache';
import PQueue from 'p-queue';
import { arrangements, journal, snapshots } from './db/schema.js';
import { carryOut, editsInTable, type Standing } from './journal.js';
import { HttpProblem, notFound } from './problems.js';
import { upgradeStored } from './upgradeStored.js';

const SNAPSHOT_EVERY = 200;
/** Older snapshots are pruned: the newest serves, the one before it is there in case. */
const KEPT_SNAPSHOTS = 2;
/** So many of the newest entries of the history are sent when an arrangement opens; more on asking. */
const ENTRIES_AT_OPENING = 100;
/** So many entries at a time are sent of what lies before. */
const ENTRIES_A_PAGE = 200;
const KEPT_IN_MEMORY = 4;
const BIN_DAYS = 30;

interface Held {
  readonly standing: Standing;
  readonly revision: number;
  readonly changedAt: string;
}

type Summary = Omit<LibraryItem, 'id' | 'changedAt'>;

const summaryOf = (arrangement: Arrangement): Summary => {
  const { ppq, parts, tempos, meters } = arrangement;
  const end = lastTick(parts);
  return {
    title: arrangement.title,
    parts: parts.map((part) => ({ name: part.name, instrument: part.instrument, notes: part.notes.length })),
    bars: barsOfRecording(
      meters,
      ppq,
      parts.flatMap((part) => part.notes),
    ),
    seconds: createTempoMap(tempos, ppq).secondsAt(end),
  };
};

const newId = (): string => Array.from({ length: 12 }, () => randomInt(36).toString(36)).join('');

/** All that the routes do with arrangements. Writes to one arrangement go one after another. */
export class ArrangementStore {
  private readonly held = new LRUCache<string, Held>({ max: KEPT_IN_MEMORY });
  /** One line for each arrangement that is being read or written: they take turns. */
  private readonly lines = new Map<string, PQueue>();

  constructor(private readonly db: LibSQLDatabase) {}

  /** The library, last changed first. */
  async list(): Promise<LibraryItem[]> {
    const rows = await this.db
      .select()
      .from(arrangements)
      .where(isNull(arrangements.deletedAt))
      .orderBy(desc(arrangements.changedAt));
    return rows.map((row) => ({ id: row.id, changedAt: row.changedAt, ...(JSON.parse(row.summary) as Summary) }));
  }

  /** Adds a new arrangement and returns its id. */
  async create(arrangement: Arrangement): Promise<string> {
    const id = newId();
    const now = new Date().toISOString();
    await this.db.transaction(async (tx) => {
      await tx.insert(arrangements).values({
        id,
        summary: JSON.stringify(summaryOf(arrangement)),
        revision: 0,
        form: STORED_FORM,
        createdAt: now,
        changedAt: now,
      });
      await tx.insert(snapshots).values({ arrangementId: id, revision: 0, data: JSON.stringify(arrangement) });
    });
    this.held.set(id, { standing: { arrangement, position: 0, length: 0 }, revision: 0, changedAt: now });
    return id;
  }

  /** The arrangement with the newest entries of its history. */
  async open(id: string): Promise<OpenArrangement> {
    const { standing, revision, changedAt } = await this.inTurn(id, () => this.hold(id));
    const { arrangement, position, length } = standing;
    const skipped = Math.max(0, Math.min(length - ENTRIES_AT_OPENING, position - 1));
    const entries = await editsInTable(this.db, id, revision)(skipped, length);
    return { id, revision, changedAt, arrangement, history: { entries, position, skipped } };
  }

  /** Entries of the history that end just before a place, oldest first. */
  async historyBefore(id: string, place: number): Promise<readonly Edit[]> {
    const { standing, revision } = await this.inTurn(id, () => this.hold(id));
    const to = Math.min(place, standing.length);
    return editsInTable(this.db, id, revision)(Math.max(0, to - ENTRIES_A_PAGE), to);
  }

  /**
   * Adds entries to the journal, on disk in one transaction before it answers. Fails with 409 where another window has
   * written since `baseRevision`.
   */
  async append(id: string, baseRevision: number, entries: readonly JournalEntry[]): Promise<Saved> {
    return this.update(id, baseRevision, () => entries);
  }

  /** As {@link append}, with entries made from the arrangement as it stands; no base revision asks for whatever is newest. */
  async update(
    id: string,
    baseRevision: number | null,
    make: (arrangement: Arrangement) => readonly JournalEntry[],
  ): Promise<Saved> {
    return this.inTurn(id, async () => {
      const held = await this.hold(id);
      if (baseRevision !== null && baseRevision !== held.revision) {
        throw new HttpProblem(
          409,
          'changedElsewhere',
          'This arrangement was changed in another window. Reload to see it, or take over to put your change on top.',
        );
      }
      const entries = make(held.standing.arrangement);
      const { standing, lines } = await carryOut(held.standing, entries, editsInTable(this.db, id, held.revision));
      const { arrangement, position, length } = standing;
      const changedAt = new Date().toISOString();
      const revision = held.revision + entries.length;
      await this.db.transaction(async (tx) => {
        await tx.insert(journal).values(
          lines.map((line, index) => ({
            arrangementId: id,
            revision: held.revision + index + 1,
            ...line,
            writtenAt: changedAt,
          })),
        );
        await tx
          .update(arrangements)
          .set({ revision, position, length, changedAt, summary: JSON.stringify(summaryOf(arrangement)) })
          .where(eq(arrangements.id, id));
        if (Math.floor(revision / SNAPSHOT_EVERY) > Math.floor(held.revision / SNAPSHOT_EVERY)) {
          await tx
            .insert(snapshots)
            .values({ arrangementId: id, revision, position, length, data: JSON.stringify(arrangement) });
          const [oldest] = await tx
            .select({ revision: snapshots.revision })
            .from(snapshots)
            .where(eq(snapshots.arrangementId, id))
            .orderBy(desc(snapshots.revision))
            .limit(1)
            .offset(KEPT_SNAPSHOTS - 1);
          if (oldest) {
            await tx
              .delete(snapshots)
              .where(and(eq(snapshots.arrangementId, id), lt(snapshots.revision, oldest.revision)));
          }
        }
      });
      this.held.set(id, { standing, revision, changedAt });
      return { revision, changedAt };
    });
  }

  /** A copy under a new id, as it stands now, with a history of its own. */
  async duplicate(id: string): Promise<string> {
    const { standing } = await this.inTurn(id, () => this.hold(id));
    return this.create({ ...standing.arrangement, title: `${standing.arrangement.title}, copy` });
  }

  /** Puts it in the bin, from which {@link restore} takes it back. */
  async remove(id: string): Promise<void> {
    await this.mark(id, new Date().toISOString());
    this.held.delete(id);
  }

  /** Takes it out of the bin. */
  async restore(id: string): Promise<void> {
    await this.mark(id, null);
  }

  /** Empties the bin of what has lain there for thirty days. */
  async emptyBin(): Promise<void> {
    const limit = new Date(Date.now() - BIN_DAYS * 86_400_000).toISOString();
    await this.db.delete(arrangements).where(and(isNotNull(arrangements.deletedAt), lt(arrangements.deletedAt, limit)));
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
    const [row] = await this.db
      .select()
      .from(arrangements)
      .where(and(eq(arrangements.id, id), isNull(arrangements.deletedAt)));
    if (!row) throw notFound();
    if (row.form < STORED_FORM) await upgradeStored(this.db, id);
    const [snapshot] = await this.db
      .select()
      .from(snapshots)
      .where(eq(snapshots.arrangementId, id))
      .orderBy(desc(snapshots.revision))
      .limit(1);
    if (!snapshot) throw notFound();
    const after = await this.db
      .select({ entry: journal.entry })
      .from(journal)
      .where(and(eq(journal.arrangementId, id), gt(journal.revision, snapshot.revision)))
      .orderBy(asc(journal.revision));
    const { standing } = await carryOut(
      { arrangement: JSON.parse(snapshot.data) as Arrangement, position: snapshot.position, length: snapshot.length },
      after.map((line) => JSON.parse(line.entry) as JournalEntry),
      editsInTable(this.db, id, snapshot.revision),
    );
    const held = { standing, revision: row.revision, changedAt: row.changedAt };
    this.held.set(id, held);
    return held;
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
