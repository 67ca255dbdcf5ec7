/** The thread that writes a backup: one consistent file, while the server goes on. */
import { parentPort, workerData } from 'node:worker_threads';
import { copyDatabase } from './copyDatabase.js';

const { from, to } = workerData as { from: string; to: string };
copyDatabase(from, to).then(
  () => parentPort?.postMessage('done'),
  (error: Error) => parentPort?.postMessage(error.message),
);
