/** One running server: opens the database, puts the demo in an empty library, listens, and stops cleanly. */
import { randomBytes } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { networkInterfaces } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { SHORTEST_TOKEN } from '@crispfold/core';
import { pino } from 'pino';
import { createApp } from './app.js';
import { ArrangementStore } from './arrangementStore.js';
import { copyInThread, createBackups } from './backup/backups.js';
import { createDemo } from './createDemo.js';
import { CannotOpen, type Database, inWords, openDatabase } from './db/database.js';
import { createImporter } from './importing/importer.js';
import { clearOnce, type KeptKind } from './keeping/clearing.js';
import { createLook } from './keeping/lookInThread.js';
import { RecordingStore } from './keeping/recordingStore.js';
import { SoundFontStore } from './keeping/soundFontStore.js';
import { emptyWorkFolder } from './keeping/workFolder.js';
import { Notices } from './notices.js';
import { createPresser } from './pressing/presser.js';

/** The database is checkpointed this often while it is in use, in milliseconds. */
const CHECKPOINT_EVERY = 20_000;
/** What nobody names any more is looked for this often, in milliseconds. */
const CLEAR_EVERY = 3_600_000;
/** A request has this long to come in, in milliseconds. */
const LONGEST_REQUEST = 15 * 60_000;
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

/** A token is offered that nobody guesses: 144 bits (RFC 4086 asks for 128 where guessing costs nothing). */
const needsToken = (token: string | undefined): string => {
  const made = randomBytes(18).toString('base64url');
  const why = token
    ? `CRISPFOLD_TOKEN has fewer than ${SHORTEST_TOKEN} characters, which others on the network may guess.`
    : 'It answers on this machine only. To bind another address, it needs an access token.';
  return `${why} Set CRISPFOLD_TOKEN to a longer one, this for example, made by chance just now: ${made}`;
};

/** Makes a database ready to be served; answers its work folder. What goes wrong closes it again. */
const prepared = async (database: Database, prepare: (folder: string) => Promise<void>): Promise<string> => {
  try {
    const folder = emptyWorkFolder(database.file);
    await prepare(folder);
    return folder;
  } catch (error) {
    await database.close().catch(() => undefined);
    throw new CannotServe(inWords(database.file, error).message);
  }
};

/** Starts one; throws {@link CannotServe}. Runs from the built folder: threads, migrations and the web application lie there. */
export const serve = async (options: ServeOptions): Promise<Serving> => {
  const { database: file, host = OWN_HOST, port, token, names = [] } = options;
  const here = path.dirname(fileURLToPath(import.meta.url));
  const onNetwork = !isOwn(host);
  if (onNetwork && (token ?? '').length < SHORTEST_TOKEN) throw new CannotServe(needsToken(token));
  const log = pino({ level: options.logLevel ?? 'warn' });
  const database = await openDatabase(file, path.resolve(here, '../migrations')).catch((error: Error) => {
    throw new CannotServe(
      error instanceof CannotOpen ? error.message : `The database could not be opened: ${error.message}`,
    );
  });
  const store = new ArrangementStore(database.db);
  const look = createLook(new URL('./lookWorker.js', import.meta.url));
  const recordings = new RecordingStore(database.db, database.file, look);
  const soundFont = new SoundFontStore(database.db, database.file, look);
  const kept: readonly KeptKind[] = [
    { what: 'recording', files: recordings.files },
    { what: 'SoundFont', files: soundFont.files },
  ];
  const notices = new Notices(database.db, log);
  const workFolder = await prepared(database, async (folder) => {
    await store.emptyBin();
    for (const { files } of kept) await files.leaveList();
    if (options.demo && (await store.list()).length === 0) await createDemo(store, recordings, folder);
  });

  const addresses = Object.values(networkInterfaces()).flatMap((all) =>
    (all ?? []).map(({ address, family }) => (family === 'IPv6' ? `[${address}]` : address)),
  );
  const backups = createBackups(database.file, {
    copy: copyInThread(new URL('./backupWorker.js', import.meta.url)),
    workFolder,
    recordings: () => recordings.all(),
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
    soundFont,
    notices,
    workFolder,
  });
  const server = await new Promise<ReturnType<typeof app.listen>>((resolve, reject) => {
    const listening = app.listen(port, host, (error?: Error) => (error ? reject(error) : resolve(listening)));
  }).catch(async (error: NodeJS.ErrnoException) => {
    await reading.close();
    await database.close().catch(() => undefined);
    throw new CannotServe(whyNot(error, host, port));
  });
  // A request that drips in has its time, and no more: enough for the largest file over a slow network.
  server.requestTimeout = LONGEST_REQUEST;
  server.headersTimeout = 20_000;
  backups.begin((problem) => log.error({ err: problem }, 'no backup could be written'));
  const checkpoints = setInterval(() => {
    database.checkpoint().catch((error: Error) => log.warn({ err: error }, 'no checkpoint'));
  }, CHECKPOINT_EVERY);
  checkpoints.unref();
  const clearing = setInterval(() => {
    clearOnce(kept, notices).catch((error: Error) => log.warn({ err: error }, 'nothing was cleared away'));
  }, CLEAR_EVERY);
  clearing.unref();

  const stop = async (): Promise<void> => {
    clearInterval(checkpoints);
    clearInterval(clearing);
    backups.stop();
    const patience = setTimeout(() => server.closeAllConnections(), STOP_WITHIN);
    await new Promise((resolve) => {
      server.close(resolve);
      server.closeIdleConnections();
    });
    clearTimeout(patience);
    await store.settle();
    await reading.close();
    await rm(workFolder, { recursive: true, force: true });
    await database.close().catch((error: Error) => log.error({ err: error }, 'closing'));
  };
  const bound = (server.address() as AddressInfo).port;
  return { address: `http://${host.includes(':') ? `[${host}]` : host}:${bound}/`, stop };
};
