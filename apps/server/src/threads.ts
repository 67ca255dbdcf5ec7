/**
 * Work in threads of their own, within stated bounds of time and memory, so that what is too much costs its own request and
 * nothing else. A thread is used once.
 */
import { Worker } from 'node:worker_threads';
import PQueue from 'p-queue';
import type { HttpProblem } from './problems.js';

/** How long one request may take, and how much memory. */
export interface Bounds {
  readonly milliseconds: number;
  readonly megabytes: number;
}

/** What is said where work does not come to its end. */
export interface ThreadProblems {
  readonly slow: (seconds: number) => HttpProblem;
  readonly memory: () => HttpProblem;
  readonly failed: () => HttpProblem;
  readonly cancelled: () => HttpProblem;
}

/** Does one piece of work; rejects with a problem, also when `signal` says that nobody waits. */
export type InThread<Asked, Answer> = (asked: Asked, signal: AbortSignal) => Promise<Answer>;

/** Threads that run the built script at `script`, so many at once; with `standby` one stands ready. */
export const createThreads = <Asked, Answer>(
  script: URL,
  { milliseconds, megabytes }: Bounds,
  problems: ThreadProblems,
  { atOnce, standby }: { readonly atOnce: number; readonly standby: boolean },
) => {
  const line = new PQueue({ concurrency: atOnce });
  const start = () => {
    const worker = new Worker(script, { resourceLimits: { maxOldGenerationSizeMb: megabytes } });
    worker.unref();
    return worker;
  };
  let ready: Worker | null = standby ? start() : null;

  const work = (asked: Asked, signal: AbortSignal): Promise<Answer> => {
    if (signal.aborted) return Promise.reject(problems.cancelled());
    const worker = ready ?? start();
    ready = null;
    return new Promise<Answer>((resolve, reject) => {
      const end = (settle: () => void) => {
        clearTimeout(timer);
        signal.removeEventListener('abort', abort);
        worker.removeAllListeners();
        worker.on('error', () => undefined);
        void worker.terminate();
        if (standby) ready ??= start();
        settle();
      };
      const fail = (problem: HttpProblem) => end(() => reject(problem));
      const abort = () => fail(problems.cancelled());
      const timer = setTimeout(() => fail(problems.slow(Math.round(milliseconds / 1000))), milliseconds);
      signal.addEventListener('abort', abort);
      worker.once('message', (answer: Answer) => end(() => resolve(answer)));
      worker.once('error', (error: Error & { code?: string }) =>
        fail(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? problems.memory() : problems.failed()),
      );
      worker.once('exit', () => fail(problems.failed()));
      worker.postMessage(asked);
    });
  };
  const run: InThread<Asked, Answer> = (asked, signal) => line.add(() => work(asked, signal)) as Promise<Answer>;
  return {
    run,
    /** Ends the thread that stands ready. */
    close: async (): Promise<void> => {
      await ready?.terminate();
    },
  };
};
