/**
 * How large a history gets. It is kept whole up to a stated size; beyond it, its oldest entries go, and what is left of them
 * are a few points: snapshots that were kept along the way.
 */
import type { KeptPointItem } from '@crispfold/contract';
import { and, asc, desc, eq, gt, gte, isNotNull, isNull, lt, lte, or, sql } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { arrangements, journal, snapshots } from './db/schema.js';

type Db = Pick<LibSQLDatabase, 'select' | 'insert' | 'update' | 'delete'>;

/** Beside those that are kept, so many snapshots: the newest serves, the one before it is there in case. */
const NEWEST_SNAPSHOTS = 2;
/** A snapshot is kept each time the history has grown by this share of its greatest size. */
const KEPT_EVERY = 1 / 8;
/** Folding leaves this share of the greatest size, so that it is not done again at once. */
const LEFT = 3 / 4;
/** So many points older than the fold are kept. */
const MOST_POINTS = 5;

type NewSnapshot = Pick<typeof snapshots.$inferSelect, 'revision' | 'position' | 'length' | 'packed' | 'writtenAt'>;

/** Adds a snapshot and prunes those that serve no more. */
export const addSnapshot = async (db: Db, id: string, snapshot: NewSnapshot): Promise<void> => {
  await db.insert(snapshots).values({ arrangementId: id, data: '', ...snapshot });
  const [oldest] = await db
    .select({ revision: snapshots.revision })
    .from(snapshots)
    .where(eq(snapshots.arrangementId, id))
    .orderBy(desc(snapshots.revision))
    .limit(1)
    .offset(NEWEST_SNAPSHOTS - 1);
  if (!oldest) return;
  await db
    .delete(snapshots)
    .where(and(eq(snapshots.arrangementId, id), lt(snapshots.revision, oldest.revision), eq(snapshots.kept, false)));
};

const sizeOf = sql<number>`coalesce(sum(length(${journal.packed})), 0) + coalesce(sum(length(${journal.entry})), 0)`;

/** Bytes of the journal after a revision. */
const bytesAfter = async (db: Db, id: string, revision: number): Promise<number> => {
  const [row] = await db
    .select({ bytes: sizeOf })
    .from(journal)
    .where(and(eq(journal.arrangementId, id), gt(journal.revision, revision)));
  return row?.bytes ?? 0;
};

/**
 * Marks the newest snapshot as one to keep where the history has grown by its share since the last; folds where it has grown
 * beyond `most` bytes. Answers how many entries are folded where that changed, else null.
 */
export const foldHistory = async (db: LibSQLDatabase, id: string, most: number): Promise<number | null> => {
  const [newest] = await db
    .select({ revision: snapshots.revision, position: snapshots.position })
    .from(snapshots)
    .where(eq(snapshots.arrangementId, id))
    .orderBy(desc(snapshots.revision))
    .limit(1);
  if (!newest) return null;
  const own = and(eq(snapshots.arrangementId, id), eq(snapshots.kept, true));
  // What was undone and written over is no point of this history any more.
  await db.delete(snapshots).where(and(own, gt(snapshots.position, newest.position)));
  const kept = await db
    .select({ revision: snapshots.revision, position: snapshots.position })
    .from(snapshots)
    .where(own)
    .orderBy(asc(snapshots.revision));
  const last = kept[kept.length - 1];
  if ((await bytesAfter(db, id, last?.revision ?? -1)) > most * KEPT_EVERY) {
    await db
      .update(snapshots)
      .set({ kept: true })
      .where(and(eq(snapshots.arrangementId, id), eq(snapshots.revision, newest.revision)));
  }
  if ((await bytesAfter(db, id, -1)) <= most) return null;
  // The oldest point that leaves little enough; where none does, the newest of them leaves the least.
  for (const point of kept) {
    if (point !== last && (await bytesAfter(db, id, point.revision)) > most * LEFT) continue;
    await foldTo(db, id, point, newest.revision);
    return point.position;
  }
  return null;
};

/** Takes out what led to a point, and what no line after it needs. */
const foldTo = async (
  db: LibSQLDatabase,
  id: string,
  point: { readonly revision: number; readonly position: number },
  newest: number,
): Promise<void> => {
  await db.transaction(async (tx) => {
    const own = eq(journal.arrangementId, id);
    await tx
      .delete(journal)
      .where(
        and(
          own,
          lte(journal.revision, newest),
          or(and(isNotNull(journal.label), lt(journal.place, point.position)), isNull(journal.label)),
        ),
      );
    // Of several Edits at one place the newest counts: those that were undone and written over go too.
    await tx.delete(journal).where(
      and(
        own,
        lte(journal.revision, newest),
        isNotNull(journal.label),
        sql`exists (select 1 from ${journal} later where later.arrangement_id = ${id} and later.place = ${journal.place}
          and later.label is not null and later.revision > ${journal.revision} and later.revision <= ${newest})`,
      ),
    );
    await tx.update(arrangements).set({ folded: point.position }).where(eq(arrangements.id, id));
    const older = await tx
      .select({ revision: snapshots.revision })
      .from(snapshots)
      .where(and(eq(snapshots.arrangementId, id), eq(snapshots.kept, true), lte(snapshots.revision, point.revision)))
      .orderBy(desc(snapshots.revision));
    const tooMany = older[MOST_POINTS];
    if (tooMany) {
      await tx
        .delete(snapshots)
        .where(
          and(eq(snapshots.arrangementId, id), eq(snapshots.kept, true), lte(snapshots.revision, tooMany.revision)),
        );
    }
  });
};

/** The points that are kept of what was folded away, oldest first. */
export const keptPoints = (db: Db, id: string, folded: number): Promise<KeptPointItem[]> =>
  db
    .select({ revision: snapshots.revision, position: snapshots.position, writtenAt: snapshots.writtenAt })
    .from(snapshots)
    .where(
      and(
        eq(snapshots.arrangementId, id),
        eq(snapshots.kept, true),
        lte(snapshots.position, folded),
        gte(snapshots.position, 0),
      ),
    )
    .orderBy(asc(snapshots.revision));
