/** Backups: one file on asking, and one each night beside the database, the last seven of which are kept. */
import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { keepCopy } from '../keptFiles.js';
import { copyDatabase } from './copyDatabase.js';

/** Writes a copy of one file to another. */
export type CopyDatabase = (from: string, to: string) => Promise<void>;

const KEPT = 7;
const NAME = /^crispfold-\d{4}-\d{2}-\d{2}\.sqlite$/;
const HOUR = 3_600_000;

/** Copies in a thread that runs the built script. */
export const copyInThread =
  (script: URL): CopyDatabase =>
  (from, to) =>
    new Promise((resolve, reject) => {
      const worker = new Worker(script, { workerData: { from, to } });
      worker.once('message', (answer: string) => (answer === 'done' ? resolve() : reject(new Error(answer))));
      worker.once('error', reject);
    });

/** What the server does with backups of one database. */
export interface Backups {
  /** The folder of the recordings; null where there is none. */
  readonly recordings: string | null;
  /** Writes one and hands it out, in a folder that is removed when `done` is called. */
  take(): Promise<{ readonly file: string; readonly done: () => Promise<void> }>;
  /** Writes that of the day where there is none yet, and prunes old ones; answers its file, or null. */
  nightly(now?: Date): Promise<string | null>;
  /** Looks each hour whether one is due. */
  begin(onProblem: (error: Error) => void): void;
  stop(): void;
}

/** How backups are made. */
export interface BackupOptions {
  readonly copy?: CopyDatabase;
  /** The folder of the recordings. */
  readonly recordings?: string;
  /** Recordings go into the nightly backups: into a folder beside them, each once. */
  readonly nightlyRecordings?: boolean;
}

/** The backups of the database in `file`. */
export const createBackups = (
  file: string,
  { copy = copyDatabase, recordings, nightlyRecordings = false }: BackupOptions = {},
): Backups => {
  const folder = path.join(path.dirname(file), 'backups');
  /** Recordings never change, so each is copied once. */
  const copyRecordings = async (): Promise<void> => {
    if (!nightlyRecordings || !recordings || !existsSync(recordings)) return;
    const to = path.join(folder, 'recordings');
    for (const name of readdirSync(recordings).filter((own) => !existsSync(path.join(to, own))))
      await keepCopy(path.join(recordings, name), path.join(to, name));
  };
  let timer: ReturnType<typeof setInterval> | undefined;
  const backups: Backups = {
    recordings: recordings ?? null,
    take: async () => {
      const own = await mkdtemp(path.join(tmpdir(), 'crispfold-backup-'));
      const to = path.join(own, 'crispfold.sqlite');
      const done = () => rm(own, { recursive: true, force: true });
      try {
        await copy(file, to);
      } catch (error) {
        await done();
        throw error;
      }
      return { file: to, done };
    },
    nightly: async (now = new Date()) => {
      mkdirSync(folder, { recursive: true });
      const to = path.join(folder, `crispfold-${now.toISOString().slice(0, 10)}.sqlite`);
      if (existsSync(to)) return null;
      await copy(file, to);
      await copyRecordings();
      const old = readdirSync(folder)
        .filter((name) => NAME.test(name))
        .sort()
        .slice(0, -KEPT);
      for (const name of old) await rm(path.join(folder, name), { force: true });
      return to;
    },
    begin: (onProblem) => {
      const look = () => void backups.nightly().catch(onProblem);
      timer = setInterval(look, HOUR);
      timer.unref();
      look();
    },
    stop: () => clearInterval(timer),
  };
  return backups;
};
