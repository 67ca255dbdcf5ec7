/** Opens the database: write-ahead log, foreign keys, migrations. */
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { type Client, createClient } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';

/** An open database and how to close it. */
export interface Database {
  readonly db: LibSQLDatabase;
  close(): void;
}

/** Opens (and makes, where needed) the SQLite file and brings its tables up to date. */
export const openDatabase = async (file: string, migrationsFolder: string): Promise<Database> => {
  mkdirSync(path.dirname(file), { recursive: true });
  const client: Client = createClient({ url: `file:${file}` });
  await client.execute('PRAGMA journal_mode = WAL');
  await client.execute('PRAGMA synchronous = FULL');
  await client.execute('PRAGMA foreign_keys = ON');
  const db = drizzle(client);
  await migrate(db, { migrationsFolder });
  return { db, close: () => client.close() };
};
