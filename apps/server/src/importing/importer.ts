/**
 * Reads files in threads of their own, within stated bounds of time and memory, so that a file that is too much costs its
 * own request and nothing else. A thread is used once; one stands ready.
 */
import { Worker } from 'node:worker_threads';
import { READING_MEGABYTES, READING_SECONDS } from '@crispfold/core';
import PQueue from 'p-queue';
import { HttpProblem } from '../problems.js';
import type { ReadAnswer, ReadAsked } from './readFiles.js';

/** Reads files; rejects with {@link HttpProblem} where they are too much, and when `signal` says that nobody waits. */
export type Importer = (asked: ReadAsked, signal: AbortSignal) => Promise<ReadAnswer>;

/** How long reading may take, and how much memory. */
interface Bounds {
  readonly milliseconds: number;
  readonly megabytes: number;
}
const BOUNDS: Bounds = { milliseconds: READING_SECONDS * 1000, megabytes: READING_MEGABYTES };
/** So many requests are read at once; others wait. */
const AT_ONCE = 2;

const tooMuch = (why: string): HttpProblem =>
  new HttpProblem(422, 'tooMuch', `${why} Nothing was brought in, and all else is as it was.`);

const cancelled = (): HttpProblem => new HttpProblem(499, 'cancelled', 'Nobody waits for these files any more.');

/** Reads with threads that run the built script at `script`; `bounds` are for tests. */
export const createImporter = (script: URL, bounds: Bounds = BOUNDS) => {
  const line = new PQueue({ concurrency: AT_ONCE });
  const start = () => {
    const worker = new Worker(script, { resourceLimits: { maxOldGenerationSizeMb: bounds.megabytes } });
    worker.unref();
    return worker;
  };
  let ready: Worker | null = start();

  const read = (asked: ReadAsked, signal: AbortSignal): Promise<ReadAnswer> => {
    if (signal.aborted) return Promise.reject(cancelled());
    const worker = ready ?? start();
    ready = null;
    return new Promise<ReadAnswer>((resolve, reject) => {
      const end = (settle: () => void) => {
        clearTimeout(timer);
        signal.removeEventListener('abort', abort);
        worker.removeAllListeners();
        worker.on('error', () => undefined);
        void worker.terminate();
        ready ??= start();
        settle();
      };
      const abort = () => end(() => reject(cancelled()));
      const timer = setTimeout(
        () =>
          end(() =>
            reject(tooMuch(`Reading these files takes longer than ${Math.round(bounds.milliseconds / 1000)} seconds.`)),
          ),
        bounds.milliseconds,
      );
      signal.addEventListener('abort', abort);
      worker.once('message', (answer: ReadAnswer) => end(() => resolve(answer)));
      worker.once('error', (error: Error & { code?: string }) =>
        end(() =>
          reject(
            error.code === 'ERR_WORKER_OUT_OF_MEMORY'
              ? tooMuch('Reading these files takes more memory than there is for it.')
              : tooMuch('These files could not be read.'),
          ),
        ),
      );
      worker.once('exit', () => end(() => reject(tooMuch('These files could not be read.'))));
      worker.postMessage(asked);
    });
  };
  const importer: Importer = (asked, signal) => line.add(() => read(asked, signal)) as Promise<ReadAnswer>;
  return {
    importer,
    /** Ends the thread that stands ready. */
    close: async (): Promise<void> => {
      await ready?.terminate();
    },
  };
};
