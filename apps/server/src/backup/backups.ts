/** Backups: one file on asking, and one each night beside the database, the last seven of which are kept. */
import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import PQueue from 'p-queue';
import { keepCopy, type NamedFile } from '../keeping/keptFiles.js';
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

/** A backup on its way out. */
interface Taken {
  readonly file: string;
  /** The recordings that the database names, as far as they are there. */
  readonly recordings: readonly NamedFile[];
  /** To be called once it was handed out: its copy is removed, and the next one has its turn. */
  readonly done: () => Promise<void>;
}

/** What the server does with backups of one database. */
export interface Backups {
  /** Writes one and hands it out; one at a time, others wait until it is done. */
  take(): Promise<Taken>;
  /** Writes that of the day where there is none yet, and prunes old ones; answers its file, or null. */
  nightly(now?: Date): Promise<string | null>;
  /** Looks each hour whether one is due. */
  begin(onProblem: (error: Error) => void): void;
  stop(): void;
}

/** How backups are made. */
export interface BackupOptions {
  readonly copy?: CopyDatabase;
  /** Where copies grow that are handed out. */
  readonly workFolder: string;
  /** The recordings that the database names. */
  readonly recordings?: () => Promise<readonly NamedFile[]>;
  /** Recordings go into the nightly backups: into a folder beside them, each once. */
  readonly nightlyRecordings?: boolean;
}

/** The backups of the database in `file`. */
export const createBackups = (
  file: string,
  { copy = copyDatabase, workFolder, recordings = async () => [], nightlyRecordings = false }: BackupOptions,
): Backups => {
  // Each database has its own, also where several lie in one folder.
  const folder = path.join(path.dirname(file), 'backups', path.basename(file));
  const line = new PQueue({ concurrency: 1 });
  const there = async () => (await recordings()).filter((own) => existsSync(own.file));
  /** Recordings never change, so each is copied once. */
  const copyRecordings = async (): Promise<void> => {
    if (!nightlyRecordings) return;
    for (const { name, file: from } of await there()) {
      const to = path.join(folder, 'recordings', name);
      if (!existsSync(to)) await keepCopy(from, to);
    }
  };
  const copyOut = async (end: () => void): Promise<Taken> => {
    const own = await mkdtemp(path.join(workFolder, 'backup-'));
    const to = path.join(own, 'crispfold.sqlite');
    const done = async () => {
      await rm(own, { recursive: true, force: true });
      end();
    };
    try {
      await copy(file, to);
      return { file: to, recordings: await there(), done };
    } catch (error) {
      await done();
      throw error;
    }
  };
  let timer: ReturnType<typeof setInterval> | undefined;
  const backups: Backups = {
    take: () =>
      new Promise((resolve, reject) => {
        void line.add(() => new Promise<void>((end) => void copyOut(end).then(resolve, reject)));
      }),
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
