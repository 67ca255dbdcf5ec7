/** One running server: opens the database, puts the demo in an empty library, listens, and stops cleanly. */
import type { AddressInfo } from 'node:net';
import { networkInterfaces } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { createApp } from './app.js';
import { ArrangementStore } from './arrangementStore.js';
import { copyInThread, createBackups } from './backup/backups.js';
import { createDemo } from './createDemo.js';
import { CannotOpen, openDatabase } from './db/database.js';
import { createImporter } from './importing/importer.js';
import { createPresser } from './pressing/presser.js';
import { RecordingStore, recordingsBeside } from './recordingStore.js';
import { SoundFontStore, soundFontBeside } from './soundFontStore.js';

/** The database is checkpointed this often while it is in use, in milliseconds. */
const CHECKPOINT_EVERY = 20_000;
/** Requests under way have this long to end when the server is stopped, in milliseconds. */
const STOP_WITHIN = 3000;
/** Where no address but the machine's own is asked for. */
const OWN_HOST = '127.0.0.1';

/** What a server is started with. */
export interface ServeOptions {
  /** The database's file; recordings and the SoundFont lie beside it. */
  readonly database: string;
  /** Whether an empty library gets the demo. */
  readonly demo?: boolean;
  /** The address it binds; this machine alone where left out. */
  readonly host?: string;
  /** 0: any that is free. */
  readonly port: number;
  /** Who comes over the network signs in with it. */
  readonly token?: string;
  /** Names by which other devices call this machine, besides its addresses. */
  readonly names?: readonly string[];
  readonly behindProxy?: boolean;
  /** Whether the nightly backup copies recordings as well. */
  readonly nightlyRecordings?: boolean;
  /** The least that is logged, in words of pino. */
  readonly logLevel?: string;
}

/** A server that listens. */
export interface Serving {
  readonly address: string;
  /** Ends what is under way, then closes; resolves when the database is closed. */
  readonly stop: () => Promise<void>;
}

/** Why a server could not start, in a sentence for the person who can put it right. */
export class CannotServe extends Error {}

const isOwn = (host: string): boolean => host === OWN_HOST || host === 'localhost' || host === '::1';

const whyNot = (error: NodeJS.ErrnoException, host: string, port: number): string =>
  error.code === 'EADDRINUSE'
    ? `Port ${port} is in use. Set CRISPFOLD_PORT to use another.`
    : `It cannot listen on ${host}:${port} (${error.message}).`;

/** Starts one; throws {@link CannotServe}. Runs from the built folder: threads, migrations and the web application lie there. */
export const serve = async (options: ServeOptions): Promise<Serving> => {
  const { database: file, host = OWN_HOST, port, token, names = [] } = options;
  const here = path.dirname(fileURLToPath(import.meta.url));
  const onNetwork = !isOwn(host);
  if (onNetwork && !token) {
    throw new CannotServe(
      'It answers on this machine only. To bind another address, set CRISPFOLD_TOKEN to an access token.',
    );
  }
  const log = pino({ level: options.logLevel ?? 'warn' });
  const database = await openDatabase(file, path.resolve(here, '../migrations')).catch((error: Error) => {
    throw new CannotServe(
      error instanceof CannotOpen ? error.message : `The database could not be opened: ${error.message}`,
    );
  });
  const store = new ArrangementStore(database.db);
  const recordings = new RecordingStore(database.db, recordingsBeside(file));
  try {
    await store.emptyBin();
    await recordings.clearAway();
    if (options.demo && (await store.list()).length === 0) await createDemo(store, recordings);
  } catch (error) {
    await database.close().catch(() => undefined);
    throw new CannotServe(`The database ${file} could not be read: ${(error as Error).message}`);
  }

  const addresses = Object.values(networkInterfaces()).flatMap((all) =>
    (all ?? []).map(({ address, family }) => (family === 'IPv6' ? `[${address}]` : address)),
  );
  const backups = createBackups(file, {
    copy: copyInThread(new URL('./backupWorker.js', import.meta.url)),
    recordings: recordings.folder,
    nightlyRecordings: options.nightlyRecordings ?? false,
  });
  const reading = createImporter(new URL('./importWorker.js', import.meta.url));
  const app = createApp({
    store,
    db: database.db,
    log,
    webFolder: path.resolve(here, '../../web/dist'),
    hosts: onNetwork ? [host, ...addresses, ...names] : [...names],
    token,
    behindProxy: options.behindProxy ?? false,
    importer: reading.importer,
    presser: createPresser(new URL('./pressWorker.js', import.meta.url)),
    backups,
    recordings,
    soundFont: new SoundFontStore(database.db, soundFontBeside(file)),
  });
  const server = await new Promise<ReturnType<typeof app.listen>>((resolve, reject) => {
    const listening = app.listen(port, host, (error?: Error) => (error ? reject(error) : resolve(listening)));
  }).catch(async (error: NodeJS.ErrnoException) => {
    await reading.close();
    await database.close().catch(() => undefined);
    throw new CannotServe(whyNot(error, host, port));
  });
  // A request that drips in has its time, and no more.
  server.requestTimeout = 120_000;
  server.headersTimeout = 20_000;
  backups.begin((problem) => log.error({ err: problem }, 'no backup could be written'));
  const checkpoints = setInterval(() => {
    database.checkpoint().catch((error: Error) => log.warn({ err: error }, 'no checkpoint'));
  }, CHECKPOINT_EVERY);
  checkpoints.unref();

  const stop = async (): Promise<void> => {
    clearInterval(checkpoints);
    backups.stop();
    const patience = setTimeout(() => server.closeAllConnections(), STOP_WITHIN);
    await new Promise((resolve) => {
      server.close(resolve);
      server.closeIdleConnections();
    });
    clearTimeout(patience);
    await store.settle();
    await reading.close();
    await database.close().catch((error: Error) => log.error({ err: error }, 'closing'));
  };
  const bound = (server.address() as AddressInfo).port;
  return { address: `http://${host.includes(':') ? `[${host}]` : host}:${bound}/`, stop };
};
