/** The thread that reads files: one request, one answer, and it is done. */
import { parentPort } from 'node:worker_threads';
import { READING_MEGABYTES } from '@crispfold/core';
import { OUT_OF_MEMORY } from '../threads.js';
import { type ReadAsked, readFiles } from './readFiles.js';

const own = ({ buffer }: Uint8Array): ArrayBuffer => buffer as ArrayBuffer;

/** A sign of life is given each time so many bytes more were worked through. */
const SIGN_EACH = 1024 * 1024;

parentPort?.once('message', (asked: ReadAsked) => {
  let bytesDone = 0;
  let told = 0;
  const onWork = (bytes: number): void => {
    bytesDone += bytes;
    if (bytesDone - told < SIGN_EACH) return;
    told = bytesDone;
    // Plain bytes are no part of what the thread's own limit counts: beyond as much of them it ends in the same way.
    if (process.memoryUsage().arrayBuffers > READING_MEGABYTES * 1024 * 1024)
      throw Object.assign(new Error('out of memory'), { code: OUT_OF_MEMORY });
    parentPort?.postMessage({ bytesDone });
  };
  void readFiles(asked, onWork).then((answer) => {
    // Large blocks change hands, and are not copied.
    const blocks = answer.ok && answer.read.become === 'new' ? [own(answer.read.json), own(answer.read.packed)] : [];
    parentPort?.postMessage(answer, blocks);
  });
});
