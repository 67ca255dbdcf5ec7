/** The thread that looks at files: one file, one answer, and it is done. */
import { parentPort } from 'node:worker_threads';
import { type LookAsked, lookAt } from './looks.js';

// Decoders complain to the console of each frame; what they say is in their answers.
console.error = () => undefined;
console.warn = () => undefined;

parentPort?.once('message', (asked: LookAsked) => {
  void lookAt(asked).then((answer) => parentPort?.postMessage(answer));
});
