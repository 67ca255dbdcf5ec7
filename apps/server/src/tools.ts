/** What the command line does with a database: a backup while it is in use, and rescuing what is whole of a damaged one. */
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Arrangement, writePlayedMidi } from '@crispfold/core';
import { createClient } from '@libsql/client';
import { desc, eq } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/libsql';
import { ArrangementStore } from './arrangementStore.js';
import { emptyBrokenTexts } from './db/brokenTexts.js';
import { arrangements, snapshots } from './db/schema.js';
import { unpacked } from './packing.js';

export { copyDatabase } from './backup/copyDatabase.js';

/** What came of a rescue. */
export interface Rescued {
  /** Files written, by the title of the arrangement. */
  readonly files: readonly string[];
  /** Those of which only an earlier state could be read, and those of which nothing could. */
  readonly earlier: readonly string[];
  readonly lost: readonly string[];
}

/**
 * Writes each arrangement that can be read as a MIDI file into a folder. The damaged file itself is not touched: a copy of it
 * is read. Throws where not even its list of arrangements can be read.
 */
export const rescue = async (file: string, folder: string): Promise<Rescued> => {
  const own = mkdtempSync(path.join(tmpdir(), 'crispfold-rescue-'));
  const copy = path.join(own, 'copy.sqlite');
  copyFileSync(file, copy);
  if (existsSync(`${file}-wal`)) copyFileSync(`${file}-wal`, `${copy}-wal`);
  const client = createClient({ url: `file:${copy}` });
  try {
    await emptyBrokenTexts(client);
    const db = drizzle(client);
    const store = new ArrangementStore(db);
    const rows = await db.select({ id: arrangements.id, summary: arrangements.summary }).from(arrangements);
    mkdirSync(folder, { recursive: true });
    const files: string[] = [];
    const earlier: string[] = [];
    const lost: string[] = [];
    for (const { id, summary } of rows) {
      const title = titleOf(summary) || id;
      let arrangement = await store.open(id).then(
        (open) => open.arrangement,
        () => null,
      );
      if (!arrangement) {
        arrangement = await wholeSnapshot(db, id);
        if (arrangement) earlier.push(title);
      }
      if (!arrangement) {
        lost.push(title);
        continue;
      }
      const name = `${title.replace(/[\\/:*?"<>|]+/g, ' ').slice(0, 100)} (${id}).mid`;
      writeFileSync(path.join(folder, name), writePlayedMidi(arrangement));
      files.push(name);
    }
    return { files, earlier, lost };
  } finally {
    client.close();
    rmSync(own, { recursive: true, force: true });
  }
};

const titleOf = (summary: string): string => {
  try {
    return String((JSON.parse(summary) as { title?: unknown }).title ?? '');
  } catch {
    return '';
  }
};

/** The newest snapshot that can be read. */
const wholeSnapshot = async (db: ReturnType<typeof drizzle>, id: string): Promise<Arrangement | null> => {
  try {
    const rows = await db
      .select()
      .from(snapshots)
      .where(eq(snapshots.arrangementId, id))
      .orderBy(desc(snapshots.revision));
    for (const { packed, data } of rows) {
      try {
        return packed ? await unpacked<Arrangement>(packed) : (JSON.parse(data) as Arrangement);
      } catch {
        // The one before it may be whole.
      }
    }
  } catch {
    // Not even the table can be read.
  }
  return null;
};
