/** Recordings beside the notes: a row for each arrangement that has one, and the file among those that are kept. */
import { stat } from 'node:fs/promises';
import path from 'node:path';
import { MOST_RECORDINGS } from '@crispfold/core';
import { and, count, eq } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { arrangements, recordings } from '../db/schema.js';
import { newId } from '../newId.js';
import { HttpProblem, inTheBin, notFound } from '../problems.js';
import { KeptFiles, type NamedFile } from './keptFiles.js';
import type { Look } from './looks.js';

type Db = Pick<LibSQLDatabase, 'select' | 'insert'>;

/** A copy of an arrangement has the same recordings. */
export const shareRecordings = async (db: Db, from: string, to: string): Promise<void> => {
  const rows = await db.select().from(recordings).where(eq(recordings.arrangementId, from));
  if (rows.length > 0) await db.insert(recordings).values(rows.map((row) => ({ ...row, arrangementId: to })));
};

/** All that the routes do with recordings. */
export class RecordingStore {
  /** Where the files lie, and what is done with those that nobody uses any more. */
  readonly files: KeptFiles;

  /** `database` is the file of `db`; recordings lie in a folder beside it. `look` tells what a file is. */
  constructor(
    private readonly db: LibSQLDatabase,
    database: string,
    private readonly look: Look,
  ) {
    this.files = new KeptFiles(path.join(path.dirname(database), 'recordings'), database, () => this.names());
  }

  /**
   * Keeps a file for an arrangement: it is moved from where it lies. Throws {@link HttpProblem} where it is no recording, or
   * one too many.
   */
  async keep(arrangementId: string, at: string, id = newId()): Promise<{ readonly id: string }> {
    await this.checkRoom(this.db, arrangementId);
    const looked = await this.look({ kind: 'recording', file: at });
    if (!looked.ok) throw new HttpProblem(422, 'noRecording', `${looked.message} Nothing was added.`);
    const { hash: file, mediaType } = looked;
    await this.files.take(at, file);
    await this.db.transaction(async (tx) => {
      await this.checkRoom(tx, arrangementId);
      await tx.insert(recordings).values({ id, arrangementId, mediaType, file, addedAt: new Date().toISOString() });
    });
    await this.files.leaveList();
    return { id };
  }

  /** Where a recording of an arrangement lies. Throws where there is none, or its file went away. */
  async find(arrangementId: string, id: string): Promise<{ readonly file: string; readonly mediaType: string }> {
    const [row] = await this.db
      .select()
      .from(recordings)
      .where(and(eq(recordings.id, id), eq(recordings.arrangementId, arrangementId)));
    const file = row && this.files.fileOf(row.file);
    if (!file || (await stat(file).catch(() => null)) === null) {
      throw new HttpProblem(
        404,
        'noRecording',
        'The file of this recording is not here any more. Add it again to hear it.',
      );
    }
    return { file, mediaType: row.mediaType };
  }

  /** The files that a database names, by name and place: what a backup with recordings takes along. */
  async all(): Promise<readonly NamedFile[]> {
    return (await this.names()).map((name) => ({ name, file: this.files.fileOf(name) }));
  }

  private async names(): Promise<string[]> {
    return (await this.db.selectDistinct({ file: recordings.file }).from(recordings)).map(({ file }) => file);
  }

  private async checkRoom(db: Db, arrangementId: string): Promise<void> {
    const [known] = await db
      .select({ deletedAt: arrangements.deletedAt })
      .from(arrangements)
      .where(eq(arrangements.id, arrangementId));
    if (!known) throw notFound();
    if (known.deletedAt !== null) throw inTheBin();
    const [own] = await db
      .select({ count: count() })
      .from(recordings)
      .where(eq(recordings.arrangementId, arrangementId));
    if ((own?.count ?? 0) < MOST_RECORDINGS) return;
    throw new HttpProblem(
      422,
      'tooManyRecordings',
      `The server keeps ${MOST_RECORDINGS} recordings of an arrangement at most, those that were put aside among them. Make a copy of the arrangement in the library to go on.`,
    );
  }
}
