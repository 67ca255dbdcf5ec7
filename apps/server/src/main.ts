/** Starts the server: opens the database, puts the demo in an empty library, listens, stops cleanly. */
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

/** Ends with one sentence: what is wrong is for a person to put right. */
const giveUp = (sentence: string): never => {
  process.stderr.write(`Crisp Fold could not start. ${sentence}\n`);
  process.exit(1);
};

const here = path.dirname(fileURLToPath(import.meta.url));
const root = path.resolve(here, '../../..');
const host = process.env.CRISPFOLD_HOST ?? '127.0.0.1';
const port = Number(process.env.CRISPFOLD_PORT ?? 4173);
const token = process.env.CRISPFOLD_TOKEN;
const file = process.env.CRISPFOLD_DATABASE ?? path.join(root, 'data', 'crispfold.sqlite');
/** Names by which other devices call this machine, besides its addresses. */
const named = (process.env.CRISPFOLD_HOSTS ?? '').split(',').flatMap((name) => name.trim() || []);
/** The database is checkpointed this often while it is in use, in milliseconds. */
const CHECKPOINT_EVERY = 20_000;
/** Requests under way have this long to end when the server is stopped, in milliseconds. */
const STOP_WITHIN = 3000;

if (!Number.isInteger(port) || port < 0 || port > 65_535) giveUp('CRISPFOLD_PORT is not a number from 0 to 65535.');
const onNetwork = host !== '127.0.0.1' && host !== 'localhost' && host !== '::1';
if (onNetwork && !token) {
  giveUp('It answers on this machine only. To bind another address, set CRISPFOLD_TOKEN to an access token.');
}

const log = pino({ level: process.env.CRISPFOLD_LOG ?? 'warn' });
const database = await openDatabase(file, path.resolve(here, '../migrations')).catch((error: Error) =>
  giveUp(error instanceof CannotOpen ? error.message : `The database could not be opened: ${error.message}`),
);
const store = new ArrangementStore(database.db);
const recordings = new RecordingStore(database.db, recordingsBeside(file));
try {
  await store.emptyBin();
  await recordings.clearAway();
  if (process.env.CRISPFOLD_DEMO === 'yes' && (await store.list()).length === 0) await createDemo(store, recordings);
} catch (error) {
  await database.close().catch(() => undefined);
  giveUp(`The database ${file} could not be read: ${(error as Error).message}`);
}

const addresses = Object.values(networkInterfaces()).flatMap((all) =>
  (all ?? []).map(({ address, family }) => (family === 'IPv6' ? `[${address}]` : address)),
);
const backups = createBackups(file, {
  copy: copyInThread(new URL('./backupWorker.js', import.meta.url)),
  recordings: recordings.folder,
  nightlyRecordings: process.env.CRISPFOLD_BACKUP_RECORDINGS === 'yes',
});
const reading = createImporter(new URL('./importWorker.js', import.meta.url));
const app = createApp({
  store,
  db: database.db,
  log,
  webFolder: path.resolve(here, '../../web/dist'),
  hosts: onNetwork ? [host, ...addresses, ...named] : named,
  token,
  behindProxy: process.env.CRISPFOLD_PROXY === 'yes',
  importer: reading.importer,
  presser: createPresser(new URL('./pressWorker.js', import.meta.url)),
  backups,
  recordings,
  soundFont: new SoundFontStore(database.db, soundFontBeside(file)),
});
const server = app.listen(port, host, (error?: Error) => {
  if (error) {
    const { code } = error as NodeJS.ErrnoException;
    const why =
      code === 'EADDRINUSE'
        ? `Port ${port} is in use. Set CRISPFOLD_PORT to use another.`
        : `It cannot listen on ${host}:${port} (${error.message}).`;
    void database.close().finally(() => giveUp(why));
    return;
  }
  const address = server.address();
  const bound = typeof address === 'object' && address ? address.port : port;
  process.stdout.write(`Crisp Fold is ready: http://${host.includes(':') ? `[${host}]` : host}:${bound}/\n`);
  backups.begin((problem) => log.error({ err: problem }, 'no backup could be written'));
});
// A request that drips in has its time, and no more.
server.requestTimeout = 120_000;
server.headersTimeout = 20_000;

const checkpoints = setInterval(() => {
  database.checkpoint().catch((error: Error) => log.warn({ err: error }, 'no checkpoint'));
}, CHECKPOINT_EVERY);
checkpoints.unref();

let stopping = false;
const stop = (): void => {
  if (stopping) return;
  stopping = true;
  clearInterval(checkpoints);
  backups.stop();
  const end = async () => {
    await store.settle();
    await reading.close();
    await database.close().catch((error: Error) => log.error({ err: error }, 'closing'));
    process.exit(0);
  };
  const patience = setTimeout(() => server.closeAllConnections(), STOP_WITHIN);
  server.close(() => {
    clearTimeout(patience);
    void end();
  });
  server.closeIdleConnections();
};
process.once('SIGINT', stop);
process.once('SIGTERM', stop);
