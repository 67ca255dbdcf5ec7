/** Opens the database: one server at a time, checked before anything is written, write-ahead log, foreign keys, migrations. */
import {
  closeSync,
  existsSync,
  lstatSync,
  mkdirSync,
  openSync,
  readFileSync,
  readlinkSync,
  readSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
} from 'node:fs';
import path from 'node:path';
import { type Client, createClient } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { brokenTexts } from './brokenTexts.js';
import { type Lock, LockHeld, takeLock } from './lock.js';
import { oneWriteAtATime } from './oneWriteAtATime.js';

/** An open database and how to close it. */
export interface Database {
  /** Where it lies, links followed. */
  readonly file: string;
  readonly db: LibSQLDatabase;
  /** Brings what lies in the write-ahead log into the file, so that a copy of the file is the work. */
  checkpoint(): Promise<void>;
  /** Checkpoints, closes, and lets another server open it. */
  close(): Promise<void>;
}

/** Why a database cannot be opened, in a sentence for the person who started the server. The file is left as it is. */
export class CannotOpen extends Error {}

const MAGIC = 'SQLite format 3\0';

/** What SQLite or the system says, in words. A query is no part of them. */
export const inWords = (file: string, error: unknown): CannotOpen => {
  const { code = '', message = '', cause } = error as { code?: string; message?: string; cause?: unknown };
  // What wraps an error of the database names the query; what it wraps says what is wrong.
  if (cause instanceof Error) return inWords(file, cause);
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
    `The database ${file} is damaged. It was left as it is. Put a backup in its place (the folder “backups” beside it has the last seven, under its name), or take out what can be read with: crispfold rescue ${file} --out FOLDER`,
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

/** Takes the lock; in words where that cannot be. */
const lock = async (file: string): Promise<Lock> => {
  try {
    return await takeLock(file);
  } catch (error) {
    if (!(error instanceof LockHeld)) throw inWords(file, error);
    throw new CannotOpen(
      `The database ${file} is served by another Crisp Fold already. Stop that one first, or set CRISPFOLD_DATABASE.`,
    );
  }
};

/** The file that a path leads to: through links it is one and the same database. */
const realFile = (file: string): string => {
  const at = path.join(realpathSync(path.dirname(path.resolve(file))), path.basename(file));
  const isLink = lstatSync(at, { throwIfNoEntry: false })?.isSymbolicLink() ?? false;
  return isLink ? realFile(path.resolve(path.dirname(at), readlinkSync(at))) : at;
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

const connect = async (file: string): Promise<Client> => {
  const client = createClient({ url: `file:${file}` });
  await client.execute('PRAGMA journal_mode = WAL');
  await client.execute('PRAGMA synchronous = FULL');
  await client.execute('PRAGMA foreign_keys = ON');
  return client;
};

const checkpoint = async (client: Client): Promise<void> => {
  await client.execute('PRAGMA wal_checkpoint(TRUNCATE)');
};

/** Makes a new database: it stands under its name once it is whole, also where the very first start is cut off. */
const makeNew = async (file: string, migrationsFolder: string): Promise<void> => {
  const growing = `${file}.new`;
  for (const ending of ['', '-journal']) rmSync(growing + ending, { force: true });
  // Without a write-ahead log: a file that is renamed must not leave half of itself behind.
  const client = createClient({ url: `file:${growing}` });
  try {
    await migrate(drizzle(client), { migrationsFolder });
  } finally {
    client.close();
  }
  renameSync(growing, file);
};

/**
 * Opens (and makes, where there is none) the SQLite file and brings its tables up to date. Throws {@link CannotOpen} where
 * it is damaged, empty, not ours, newer, in use or not to be written to; it is then left as it is.
 */
export const openDatabase = async (given: string, migrationsFolder: string): Promise<Database> => {
  let file = given;
  try {
    mkdirSync(path.dirname(given), { recursive: true });
    file = realFile(given);
    mkdirSync(path.dirname(file), { recursive: true });
  } catch (error) {
    throw inWords(given, error);
  }
  checkHead(file);
  const held = await lock(file);
  let client: Client | undefined;
  try {
    if (!existsSync(file)) await makeNew(file, migrationsFolder);
    const own = oneWriteAtATime(await connect(file));
    client = own;
    const found = await own.execute('PRAGMA quick_check(1)');
    if (String(Object.values(found.rows[0] ?? {})[0] ?? 'ok') !== 'ok') throw damaged(file);
    if ((await brokenTexts(own)).length > 0) throw damaged(file);
    await checkVersion(own, file, migrationsFolder);
    const db = drizzle(own);
    await migrate(db, { migrationsFolder });
    return {
      file,
      db,
      checkpoint: () => checkpoint(own),
      close: async () => {
        try {
          await checkpoint(own);
        } finally {
          own.close();
          held.release();
        }
      },
    };
  } catch (error) {
    client?.close();
    held.release();
    throw error instanceof CannotOpen ? error : inWords(file, error);
  }
};
