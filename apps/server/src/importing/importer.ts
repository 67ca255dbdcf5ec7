/** Reads files in threads of their own; one stands ready. */
import { READING_MEGABYTES, STUCK_SECONDS } from '@crispfold/core';
import { HttpProblem } from '../problems.js';
import { type Bounds, createThreads, type InThread, type ThreadProblems } from '../threads.js';
import type { ReadAnswer, ReadAsked } from './readFiles.js';

/** Reads files; rejects with {@link HttpProblem} where they are too much, and when nobody waits for them. */
export type Importer = InThread<ReadAsked, ReadAnswer>;

const BOUNDS: Bounds = { silentMilliseconds: STUCK_SECONDS * 1000, megabytes: READING_MEGABYTES };
/** So many requests are read at once; others wait. */
const AT_ONCE = 2;

const tooMuch = (why: string): HttpProblem =>
  new HttpProblem(422, 'tooMuch', `${why} Nothing was brought in, and all else is as it was.`);

const PROBLEMS: ThreadProblems = {
  stuck: () => tooMuch('Reading these files comes to no end.'),
  memory: () => tooMuch('Reading these files takes more memory than there is for it.'),
  failed: () => tooMuch('These files could not be read.'),
  cancelled: () => new HttpProblem(499, 'cancelled', 'Nobody waits for these files any more.'),
};

/** Reads with threads that run the built script at `script`; `bounds` are for tests. */
export const createImporter = (script: URL, bounds: Bounds = BOUNDS) => {
  const { run, close } = createThreads<ReadAsked, ReadAnswer>(script, bounds, PROBLEMS, {
    atOnce: AT_ONCE,
    standby: true,
  });
  return { importer: run as Importer, close };
};
