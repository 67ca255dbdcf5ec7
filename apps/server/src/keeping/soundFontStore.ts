/** The SoundFont that parts may sound by: one at a time, its file among those that are kept. */
import { stat } from 'node:fs/promises';
import path from 'node:path';
import type { SoundFontItem } from '@crispfold/contract';
import { keptText, LONGEST_RECORDING_NAME } from '@crispfold/core';
import { eq } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { soundFonts } from '../db/schema.js';
import { newId } from '../newId.js';
import { HttpProblem } from '../problems.js';
import { KeptFiles } from './keptFiles.js';
import type { Look } from './looks.js';

/** All that the routes do with the SoundFont. */
export class SoundFontStore {
  /** Where the files lie, and what is done with those that nobody uses any more. */
  readonly files: KeptFiles;

  /** `database` is the file of `db`; SoundFonts lie in a folder beside it. `look` tells what a file is. */
  constructor(
    private readonly db: LibSQLDatabase,
    database: string,
    private readonly look: Look,
  ) {
    this.files = new KeptFiles(path.join(path.dirname(database), 'soundfont'), database, async () =>
      (await db.select({ file: soundFonts.file }).from(soundFonts)).map(({ file }) => file),
    );
  }

  /** The one that is there, or null. */
  async item(): Promise<SoundFontItem | null> {
    const [row] = await this.db.select().from(soundFonts);
    if (!row || (await stat(this.files.fileOf(row.file)).catch(() => null)) === null) return null;
    return { id: row.id, name: row.name, bytes: row.bytes };
  }

  /** Keeps a file, which is moved from where it lies; the one before gives way. Throws {@link HttpProblem} where it is none. */
  async keep(name: string, at: string): Promise<SoundFontItem> {
    const looked = await this.look({ kind: 'soundFont', file: at });
    if (!looked.ok) throw new HttpProblem(422, 'noSoundFont', `${looked.message} Nothing was changed.`);
    const { size } = await stat(at);
    await this.files.take(at, looked.hash);
    const item = { id: newId(), name: keptText(name, LONGEST_RECORDING_NAME), bytes: size };
    await this.db.transaction(async (tx) => {
      await tx.delete(soundFonts);
      await tx.insert(soundFonts).values({ ...item, file: looked.hash });
    });
    await this.files.leaveList();
    return item;
  }

  /** Its file. Throws where it is not there. */
  async find(id: string): Promise<string> {
    const [row] = await this.db.select().from(soundFonts).where(eq(soundFonts.id, id));
    if (!row) throw new HttpProblem(404, 'noSoundFont', 'This SoundFont is not here any more.');
    return this.files.fileOf(row.file);
  }

  async remove(): Promise<void> {
    await this.db.delete(soundFonts);
    await this.files.leaveList();
  }
}
