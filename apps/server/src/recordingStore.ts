/**
 * Recordings beside the notes: each a file in a folder beside the database, under its id, and a row for each arrangement
 * that has it. What no arrangement has any more is cleared away.
 */
import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { MOST_RECORDINGS } from '@crispfold/core';
import { and, eq } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { arrangements, recordings } from './db/schema.js';
import { headOf, isRiff, keepCopy } from './keptFiles.js';
import { newId } from './newId.js';
import { HttpProblem, notFound } from './problems.js';

/** How each kind of file begins (RIFF WAVE; RFC 9639; RFC 3533; ISO/IEC 11172-3 with or without an ID3 tag). */
const KINDS: readonly { readonly mediaType: string; readonly begins: (head: Buffer) => boolean }[] = [
  {
    mediaType: 'audio/wav',
    begins: (head) => isRiff(head, 'WAVE'),
  },
  { mediaType: 'audio/flac', begins: (head) => head.toString('latin1', 0, 4) === 'fLaC' },
  { mediaType: 'audio/ogg', begins: (head) => head.toString('latin1', 0, 4) === 'OggS' },
  {
    mediaType: 'audio/mpeg',
    begins: (head) => head.toString('latin1', 0, 3) === 'ID3' || (head[0] === 0xff && ((head[1] ?? 0) & 0xe6) === 0xe2),
  },
];

const mediaTypeOf = async (file: string): Promise<string> => {
  const head = await headOf(file);
  const kind = head && KINDS.find(({ begins }) => begins(head));
  if (!kind) {
    throw new HttpProblem(
      422,
      'noRecording',
      'This file is no recording that can be read: it is neither wav, flac, mp3 nor ogg. Nothing was added.',
    );
  }
  return kind.mediaType;
};

/** All that the routes do with recordings. */
export class RecordingStore {
  /** Those that are being written just now. */
  private readonly keeping = new Set<string>();

  /** `folder` holds the files; it is made when the first one comes. */
  constructor(
    private readonly db: LibSQLDatabase,
    readonly folder: string,
  ) {}

  /** Keeps a copy of a file for an arrangement. Throws {@link HttpProblem} where it is no recording, or one too many. */
  async keep(arrangementId: string, file: string, id = newId()): Promise<{ readonly id: string }> {
    const [known] = await this.db.select().from(arrangements).where(eq(arrangements.id, arrangementId));
    if (!known) throw notFound();
    const mediaType = await mediaTypeOf(file);
    const own = await this.db.select().from(recordings).where(eq(recordings.arrangementId, arrangementId));
    if (own.length >= MOST_RECORDINGS) {
      throw new HttpProblem(
        422,
        'tooManyRecordings',
        `The server keeps ${MOST_RECORDINGS} recordings of an arrangement at most, those that were put aside among them. Make a copy of the arrangement in the library to go on.`,
      );
    }
    this.keeping.add(id);
    try {
      await keepCopy(file, this.fileOf(id));
      await this.db.insert(recordings).values({ id, arrangementId, mediaType, addedAt: new Date().toISOString() });
    } catch (error) {
      await rm(this.fileOf(id), { force: true });
      throw error;
    } finally {
      this.keeping.delete(id);
    }
    return { id };
  }

  /** Where a recording of an arrangement lies. Throws where there is none, or its file went away. */
  async find(arrangementId: string, id: string): Promise<{ readonly file: string; readonly mediaType: string }> {
    const [row] = await this.db
      .select()
      .from(recordings)
      .where(and(eq(recordings.id, id), eq(recordings.arrangementId, arrangementId)));
    const file = this.fileOf(id);
    const there = row !== undefined && (await stat(file).catch(() => null)) !== null;
    if (!there) {
      throw new HttpProblem(
        404,
        'noRecording',
        'The file of this recording is not here any more. Add it again to hear it.',
      );
    }
    return { file, mediaType: row.mediaType };
  }

  /** A copy of an arrangement has the same recordings. */
  async share(from: string, to: string): Promise<void> {
    const rows = await this.db.select().from(recordings).where(eq(recordings.arrangementId, from));
    if (rows.length > 0) await this.db.insert(recordings).values(rows.map((row) => ({ ...row, arrangementId: to })));
  }

  /** Clears away what no arrangement has; a file that is just being kept stays. */
  async clearAway(): Promise<void> {
    // Those under way now may be done, and known, only after the rows are read.
    const busy = new Set(this.keeping);
    const files = await readdir(this.folder).catch(() => []);
    if (files.length === 0) return;
    const known = new Set((await this.db.select({ id: recordings.id }).from(recordings)).map(({ id }) => id));
    for (const name of files) {
      const id = name.replace(/\.part$/, '');
      if (!known.has(id) && !busy.has(id)) await rm(this.fileOf(name), { force: true });
    }
  }

  private fileOf(id: string): string {
    return path.join(this.folder, id);
  }
}

/** The folder of the recordings of a database. */
export const recordingsBeside = (database: string): string => path.join(path.dirname(database), 'recordings');
