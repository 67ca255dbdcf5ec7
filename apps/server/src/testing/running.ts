/** A server within the test's own process: without threads, on a database of its own. */
import { mkdtempSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pino } from 'pino';
import { createApp } from '../app.js';
import { ArrangementStore } from '../arrangementStore.js';
import { createBackups } from '../backup/backups.js';
import { type Database, openDatabase } from '../db/database.js';
import { lookAt } from '../keeping/looks.js';
import { RecordingStore } from '../keeping/recordingStore.js';
import { SoundFontStore } from '../keeping/soundFontStore.js';
import { emptyWorkFolder } from '../keeping/workFolder.js';
import { Notices } from '../notices.js';
import { pressedAnswer } from '../pressing/press.js';

/** Where the tables come from. */
export const migrations = path.resolve(import.meta.dirname, '../../migrations');

/** A server that runs. */
export interface Running {
  /** The address of the library. */
  readonly base: string;
  readonly database: Database;
  readonly store: ArrangementStore;
  readonly recordings: RecordingStore;
  readonly soundFont: SoundFontStore;
  readonly notices: Notices;
  readonly workFolder: string;
  stop(): Promise<void>;
}

/** A database that is not there yet, in a folder of its own. */
export const newFile = (name = 'test.sqlite'): string =>
  path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-db-')), name);

/** A store on a database of its own, with no server around it. */
export const openStore = async (): Promise<{ readonly database: Database; readonly store: ArrangementStore }> => {
  const database = await openDatabase(newFile(), migrations);
  return { database, store: new ArrangementStore(database.db) };
};

/** Starts one. */
export const startServer = async (
  file: string,
  {
    token,
    mostHistory,
    log = pino({ level: 'silent' }),
  }: { token?: string; mostHistory?: number; log?: pino.Logger } = {},
): Promise<Running> => {
  const database = await openDatabase(file, migrations);
  const store = new ArrangementStore(database.db, mostHistory);
  const recordings = new RecordingStore(database.db, database.file, lookAt);
  const soundFont = new SoundFontStore(database.db, database.file, lookAt);
  const notices = new Notices(database.db, log);
  const workFolder = emptyWorkFolder(database.file);
  const server = createApp({
    store,
    db: database.db,
    log,
    webFolder: '/nowhere',
    token,
    presser: pressedAnswer,
    recordings,
    soundFont,
    notices,
    workFolder,
    backups: createBackups(database.file, { workFolder, recordings: () => recordings.all() }),
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  return {
    base: `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/arrangements`,
    database,
    store,
    recordings,
    soundFont,
    notices,
    workFolder,
    stop: async () => {
      await new Promise((resolve) => server.close(resolve));
      await database.close();
    },
  };
};

/** A request with a JSON body. */
export const json = (body: unknown, method = 'POST'): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});

/** A request with files. */
export const upload = (...files: [string, Uint8Array | string][]): RequestInit => {
  const form = new FormData();
  for (const [name, bytes] of files) form.append('files', new File([bytes as Uint8Array<ArrayBuffer>], name));
  return { method: 'POST', body: form };
};

/** Asks a server for something below the library. */
export const ask = async ({ base }: Pick<Running, 'base'>, address: string, init?: RequestInit) => {
  const response = await fetch(base + address, init);
  const text = await response.text();
  return { status: response.status, body: text ? JSON.parse(text) : undefined };
};
