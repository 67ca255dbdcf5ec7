/** Starts the server: opens the database, puts the demo in an empty library, listens, stops cleanly. */
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { demoArrangement } from '@crispfold/core';
import { pino } from 'pino';
import { createApp } from './app.js';
import { ArrangementStore } from './arrangementStore.js';
import { openDatabase } from './db/database.js';

const here = path.dirname(fileURLToPath(import.meta.url));
const root = path.resolve(here, '../../..');
const host = process.env.CRISPFOLD_HOST ?? '127.0.0.1';
const port = Number(process.env.CRISPFOLD_PORT ?? 4173);
const token = process.env.CRISPFOLD_TOKEN;
const file = process.env.CRISPFOLD_DATABASE ?? path.join(root, 'data', 'crispfold.sqlite');

if (host !== '127.0.0.1' && !token) {
  process.stderr.write(
    'Crisp Fold answers on this machine only. To bind another address, set CRISPFOLD_TOKEN to an access token.\n',
  );
  process.exit(1);
}

const log = pino({ level: process.env.CRISPFOLD_LOG ?? 'warn' });
const database = await openDatabase(file, path.resolve(here, '../migrations'));
const store = new ArrangementStore(database.db);
await store.emptyBin();
if (process.env.CRISPFOLD_DEMO === 'yes' && (await store.list()).length === 0) await store.create(demoArrangement());

const app = createApp({
  store,
  db: database.db,
  log,
  webFolder: path.resolve(here, '../../web/dist'),
  hosts: host === '127.0.0.1' ? [] : [host],
  token,
});
const server = app.listen(port, host, (error?: Error) => {
  if (error) {
    process.stderr.write(`Crisp Fold could not start: ${error.message}. Set CRISPFOLD_PORT to use another port.\n`);
    process.exit(1);
  }
  const address = server.address();
  const bound = typeof address === 'object' && address ? address.port : port;
  process.stdout.write(`Crisp Fold is ready: http://${host}:${bound}/\n`);
});

const stop = (): void => {
  server.close(async () => {
    await store.settle();
    database.close();
    process.exit(0);
  });
  server.closeIdleConnections();
};
process.once('SIGINT', stop);
process.once('SIGTERM', stop);
