/** The SoundFont that parts may sound by: one file in a folder beside the database, another takes its place. */
import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { SoundFontItem } from '@crispfold/contract';
import { LONGEST_RECORDING_NAME } from '@crispfold/core';
import { eq } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { soundFonts } from './db/schema.js';
import { headOf, isRiff, keepCopy } from './keptFiles.js';
import { newId } from './newId.js';
import { HttpProblem } from './problems.js';

/** A SoundFont is a RIFF file of the form sfbk (SoundFont Technical Specification 2.04; version 3 differs in its samples). */
const isSoundFont = async (file: string): Promise<boolean> => {
  const head = await headOf(file);
  return head !== undefined && isRiff(head, 'sfbk');
};

/** All that the routes do with the SoundFont. */
export class SoundFontStore {
  constructor(
    private readonly db: LibSQLDatabase,
    private readonly folder: string,
  ) {}

  /** The one that is there, or null. */
  async item(): Promise<SoundFontItem | null> {
    const [row] = await this.db.select().from(soundFonts);
    if (!row || (await stat(this.fileOf(row.id)).catch(() => null)) === null) return null;
    return { id: row.id, name: row.name, bytes: row.bytes };
  }

  /** Keeps a copy of a file; the one before goes. Throws {@link HttpProblem} where it is none. */
  async keep(name: string, file: string): Promise<SoundFontItem> {
    if (!(await isSoundFont(file))) {
      throw new HttpProblem(422, 'noSoundFont', 'This file is no SoundFont (.sf2 or .sf3). Nothing was changed.');
    }
    const id = newId();
    const { size } = await stat(file);
    await keepCopy(file, this.fileOf(id));
    const item = { id, name: name.slice(0, LONGEST_RECORDING_NAME), bytes: size };
    await this.db.transaction(async (tx) => {
      await tx.delete(soundFonts);
      await tx.insert(soundFonts).values(item);
    });
    await this.clearAway(id);
    return item;
  }

  /** Its file. Throws where it is not there. */
  async find(id: string): Promise<string> {
    const [row] = await this.db.select().from(soundFonts).where(eq(soundFonts.id, id));
    if (!row) throw new HttpProblem(404, 'noSoundFont', 'This SoundFont is not here any more.');
    return this.fileOf(row.id);
  }

  async remove(): Promise<void> {
    await this.db.delete(soundFonts);
    await this.clearAway(null);
  }

  private async clearAway(but: string | null): Promise<void> {
    for (const name of await readdir(this.folder).catch(() => []))
      if (name !== but) await rm(this.fileOf(name), { force: true });
  }

  private fileOf(id: string): string {
    return path.join(this.folder, id);
  }
}

/** The folder of the SoundFont of a database. */
export const soundFontBeside = (database: string): string => path.join(path.dirname(database), 'soundfont');
