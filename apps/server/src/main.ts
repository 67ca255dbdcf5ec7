/** Starts the server as its environment says, and stops it cleanly. */
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { CannotServe, serve } from './serve.js';

/** Ends with one sentence: what is wrong is for a person to put right. */
const giveUp = (sentence: string): never => {
  process.stderr.write(`Crisp Fold could not start. ${sentence}\n`);
  process.exit(1);
};

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../..');
const { env } = process;
const port = Number(env.CRISPFOLD_PORT ?? 4173);
if (!Number.isInteger(port) || port < 0 || port > 65_535) giveUp('CRISPFOLD_PORT is not a number from 0 to 65535.');

const serving = await serve({
  database: env.CRISPFOLD_DATABASE ?? path.join(root, 'data', 'crispfold.sqlite'),
  demo: env.CRISPFOLD_DEMO === 'yes',
  host: env.CRISPFOLD_HOST,
  port,
  token: env.CRISPFOLD_TOKEN,
  names: (env.CRISPFOLD_HOSTS ?? '').split(',').flatMap((name) => name.trim() || []),
  behindProxy: env.CRISPFOLD_PROXY === 'yes',
  nightlyRecordings: env.CRISPFOLD_BACKUP_RECORDINGS === 'yes',
  logLevel: env.CRISPFOLD_LOG,
}).catch((error: Error) => {
  if (error instanceof CannotServe) return giveUp(error.message);
  throw error;
});
process.stdout.write(`Crisp Fold is ready: ${serving.address}\n`);

let stopping = false;
const stop = (): void => {
  if (stopping) return;
  stopping = true;
  void serving.stop().finally(() => process.exit(0));
};
process.once('SIGINT', stop);
process.once('SIGTERM', stop);
