/** Brings an arrangement that was stored in an earlier form up to today's, its whole journal with it. */
import {
  type Arrangement1,
  applyJournalEntry,
  EMPTY_HISTORY,
  historyLength,
  type JournalEntry1,
  type Record,
  STORED_FORM,
  upgradeArrangement,
  upgradeEntry,
} from '@crispfold/core';
import { and, asc, eq } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { arrangements, journal, snapshots } from './db/schema.js';

/** Rewrites one arrangement from its first snapshot on, in one transaction: nothing is changed where anything fails. */
export const upgradeStored = async (db: LibSQLDatabase, id: string): Promise<void> => {
  const [first] = await db
    .select()
    .from(snapshots)
    .where(eq(snapshots.arrangementId, id))
    .orderBy(asc(snapshots.revision))
    .limit(1);
  if (!first) return;
  const rows = await db.select().from(journal).where(eq(journal.arrangementId, id)).orderBy(asc(journal.revision));
  await db.transaction(async (tx) => {
    let record: Record = {
      arrangement: upgradeArrangement(JSON.parse(first.data) as Arrangement1),
      history: EMPTY_HISTORY,
    };
    let revision = first.revision;
    for (const row of rows) {
      const entry = upgradeEntry(JSON.parse(row.entry) as JournalEntry1, record.arrangement);
      const { position } = record.history;
      record = applyJournalEntry(record, entry);
      revision = row.revision;
      await tx
        .update(journal)
        .set({
          entry: JSON.stringify(entry),
          place: entry.kind === 'edit' ? position : record.history.position,
          label: entry.kind === 'edit' ? entry.edit.label : null,
        })
        .where(and(eq(journal.arrangementId, id), eq(journal.revision, row.revision)));
    }
    const at = { position: record.history.position, length: historyLength(record.history) };
    await tx.delete(snapshots).where(eq(snapshots.arrangementId, id));
    await tx.insert(snapshots).values({ arrangementId: id, revision, ...at, data: JSON.stringify(record.arrangement) });
    await tx
      .update(arrangements)
      .set({ ...at, form: STORED_FORM })
      .where(eq(arrangements.id, id));
  });
};
