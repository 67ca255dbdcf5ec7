/** Opens the database: one server at a time, checked before anything is written, write-ahead log, foreign keys, migrations. */
import {
  closeSync,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  readSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { type Client, createClient } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { isAlive } from '../isAlive.js';
import { brokenTexts } from './brokenTexts.js';

/** An open database and how to close it. */
export interface Database {
  readonly db: LibSQLDatabase;
  /** Brings what lies in the write-ahead log into the file, so that a copy of the file is the work. */
  checkpoint(): Promise<void>;
  /** Checkpoints, closes, and lets another server open it. */
  close(): Promise<void>;
}

/** Why a database cannot be opened, in a sentence for the person who started the server. The file is left as it is. */
export class CannotOpen extends Error {}

const MAGIC = 'SQLite format 3\0';

const inWords = (file: string, error: unknown): CannotOpen => {
  const { code = '', message = '' } = error as { code?: string; message?: string };
  const about = `${code} ${message}`;
  if (/READONLY|EACCES|EROFS|EPERM/.test(about)) {
    return new CannotOpen(
      `The database ${file} cannot be written to. Give yourself leave to write to it and its folder.`,
    );
  }
  if (/CORRUPT|NOTADB|malformed/.test(about)) return damaged(file);
  if (/SQLITE_FULL|ENOSPC/.test(about)) return new CannotOpen(`There is no room on the disk that holds ${file}.`);
  if (/BUSY|locked/.test(about)) return new CannotOpen(`The database ${file} is in use by another program.`);
  return new CannotOpen(`The database ${file} could not be opened: ${message}`);
};

const damaged = (file: string): CannotOpen =>
  new CannotOpen(
    `The database ${file} is damaged. It was left as it is. Put a backup in its place (the folder “backups” beside it has the last seven), or take out what can be read with: crispfold rescue ${file} --out FOLDER`,
  );

/** What stands at the head of a file tells whether it is one of ours, before anything opens it for writing. */
const checkHead = (file: string): void => {
  if (!existsSync(file)) return;
  if (!statSync(file).isFile()) throw new CannotOpen(`${file} is a folder, not a database.`);
  if (statSync(file).size === 0) {
    throw new CannotOpen(
      `The database ${file} is empty (0 bytes): something cut it off. It was left as it is. Put a backup in its place, or move it away to begin anew.`,
    );
  }
  const head = Buffer.alloc(16);
  try {
    const handle = openSync(file, 'r');
    readSync(handle, head, 0, 16, 0);
    closeSync(handle);
  } catch (error) {
    throw inWords(file, error);
  }
  if (head.toString('latin1') !== MAGIC) {
    throw new CannotOpen(`${file} is no Crisp Fold database. It was left as it is.`);
  }
};

/** One server serves a database. A lock whose process is no more is taken over; answers what takes it away. */
const lock = (file: string): (() => void) => {
  const at = `${file}.lock`;
  for (let tries = 0; tries < 3; tries += 1) {
    try {
      writeFileSync(at, String(process.pid), { flag: 'wx' });
      return () => rmSync(at, { force: true });
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw inWords(file, error);
      const pid = Number(readFileSync(at, 'utf8'));
      if (pid > 0 && pid !== process.pid && isAlive(pid)) {
        throw new CannotOpen(
          `The database ${file} is served by another Crisp Fold already (process ${pid}). Stop that one first, or set CRISPFOLD_DATABASE.`,
        );
      }
      rmSync(at, { force: true });
    }
  }
  throw new CannotOpen(`The lock ${at} could not be taken.`);
};

/** When the newest migration that this Crisp Fold knows was made. */
const newestKnown = (migrationsFolder: string): number => {
  const { entries } = JSON.parse(readFileSync(path.join(migrationsFolder, 'meta', '_journal.json'), 'utf8')) as {
    entries: { when: number }[];
  };
  return Math.max(...entries.map(({ when }) => when));
};

const checkVersion = async (client: Client, file: string, migrationsFolder: string): Promise<void> => {
  const known = await client.execute("select name from sqlite_master where name = '__drizzle_migrations'");
  if (known.rows.length === 0) return;
  const newest = await client.execute('select max(created_at) as newest from __drizzle_migrations');
  if (Number(newest.rows[0]?.newest ?? 0) <= newestKnown(migrationsFolder)) return;
  throw new CannotOpen(
    `The database ${file} was written by a newer Crisp Fold. It was left as it is. Start that newer one, or set CRISPFOLD_DATABASE.`,
  );
};

/**
 * Opens (and makes, where there is none) the SQLite file and brings its tables up to date. Throws {@link CannotOpen} where
 * it is damaged, empty, not ours, newer, in use or not to be written to; it is then left as it is.
 */
export const openDatabase = async (file: string, migrationsFolder: string): Promise<Database> => {
  try {
    mkdirSync(path.dirname(file), { recursive: true });
  } catch (error) {
    throw inWords(file, error);
  }
  checkHead(file);
  const unlock = lock(file);
  let client: Client | undefined;
  try {
    client = createClient({ url: `file:${file}` });
    const own = client;
    await own.execute('PRAGMA journal_mode = WAL');
    await own.execute('PRAGMA synchronous = FULL');
    await own.execute('PRAGMA foreign_keys = ON');
    const found = await own.execute('PRAGMA quick_check(1)');
    if (String(Object.values(found.rows[0] ?? {})[0] ?? 'ok') !== 'ok') throw damaged(file);
    if ((await brokenTexts(own)).length > 0) throw damaged(file);
    await checkVersion(own, file, migrationsFolder);
    const db = drizzle(own);
    await migrate(db, { migrationsFolder });
    const checkpoint = async (): Promise<void> => {
      await own.execute('PRAGMA wal_checkpoint(TRUNCATE)');
    };
    return {
      db,
      checkpoint,
      close: async () => {
        try {
          await checkpoint();
        } finally {
          own.close();
          unlock();
        }
      },
    };
  } catch (error) {
    client?.close();
    unlock();
    throw error instanceof CannotOpen ? error : inWords(file, error);
  }
};
