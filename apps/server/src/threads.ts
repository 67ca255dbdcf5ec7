/**
 * Work in threads of their own, within stated bounds, so that what is too much costs its own request and nothing else. How
 * much a thread may do is bound by what it counts itself; here it ends when it gives no sign of life, or grows too large. A
 * thread is used once.
 */
import { Worker } from 'node:worker_threads';
import PQueue from 'p-queue';
import type { HttpProblem } from './problems.js';

/** How long a thread may be silent, and how much memory it may take. */
export interface Bounds {
  readonly silentMilliseconds: number;
  readonly megabytes: number;
}

/** What is said where work does not come to its end. */
export interface ThreadProblems {
  readonly stuck: () => HttpProblem;
  readonly memory: () => HttpProblem;
  readonly failed: () => HttpProblem;
  readonly cancelled: () => HttpProblem;
}

/** What Node says where a thread took more memory than it may. */
export const OUT_OF_MEMORY = 'ERR_WORKER_OUT_OF_MEMORY';

/** A sign of life that a thread gives: how many bytes it has worked through. */
export interface WorkDone {
  readonly bytesDone: number;
}

const isWorkDone = (message: unknown): message is WorkDone =>
  typeof (message as Partial<WorkDone> | null)?.bytesDone === 'number';

/** Does one piece of work; rejects with a problem, also when `signal` says that nobody waits. */
export type InThread<Asked, Answer> = (
  asked: Asked,
  signal: AbortSignal,
  onProgress?: (done: WorkDone) => void,
) => Promise<Answer>;

/** Threads that run the built script at `script`, so many at once; with `standby` one stands ready. */
export const createThreads = <Asked, Answer>(
  script: URL,
  { silentMilliseconds, megabytes }: Bounds,
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

  const work = (asked: Asked, signal: AbortSignal, onProgress?: (done: WorkDone) => void): Promise<Answer> => {
    if (signal.aborted) return Promise.reject(problems.cancelled());
    const worker = ready ?? start();
    ready = null;
    return new Promise<Answer>((resolve, reject) => {
      const end = (settle: () => void) => {
        clearTimeout(silence);
        signal.removeEventListener('abort', abort);
        worker.removeAllListeners();
        worker.on('error', () => undefined);
        void worker.terminate();
        if (standby) ready ??= start();
        settle();
      };
      const fail = (problem: HttpProblem) => end(() => reject(problem));
      const abort = () => fail(problems.cancelled());
      const silence = setTimeout(() => fail(problems.stuck()), silentMilliseconds);
      signal.addEventListener('abort', abort);
      worker.on('message', (message: Answer | WorkDone) => {
        if (!isWorkDone(message)) {
          end(() => resolve(message));
          return;
        }
        silence.refresh();
        onProgress?.(message);
      });
      worker.once('error', (error: Error & { code?: string }) =>
        fail(error.code === OUT_OF_MEMORY ? problems.memory() : problems.failed()),
      );
      worker.once('exit', () => fail(problems.failed()));
      worker.postMessage(asked);
    });
  };
  const run: InThread<Asked, Answer> = (asked, signal, onProgress) =>
    line.add(() => work(asked, signal, onProgress)) as Promise<Answer>;
  return {
    run,
    /** Ends the thread that stands ready. */
    close: async (): Promise<void> => {
      await ready?.terminate();
    },
  };
};
