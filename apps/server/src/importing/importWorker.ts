/** The thread that reads files: one request, one answer, and it is done. */
import { parentPort } from 'node:worker_threads';
import { type ReadAsked, readFiles } from './readFiles.js';

const own = ({ buffer }: Uint8Array): ArrayBuffer => buffer as ArrayBuffer;

parentPort?.once('message', (asked: ReadAsked) => {
  void readFiles(asked).then((answer) => {
    // Large blocks change hands, and are not copied.
    const blocks = answer.ok && answer.read.become === 'new' ? [own(answer.read.json), own(answer.read.packed)] : [];
    parentPort?.postMessage(answer, blocks);
  });
});
