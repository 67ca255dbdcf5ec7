/** Makes pages in threads of their own. */
import { PRESSING_MEGABYTES, PRESSING_SECONDS } from '@crispfold/core';
import { HttpProblem } from '../problems.js';
import { type Bounds, createThreads, type InThread, type ThreadProblems } from '../threads.js';
import type { PressAnswer, PressAsked } from './press.js';

/** Makes PDF files; rejects with {@link HttpProblem} where they are too much, and when nobody waits for them. */
export type Presser = InThread<PressAsked, PressAnswer>;

const BOUNDS: Bounds = { silentMilliseconds: PRESSING_SECONDS * 1000, megabytes: PRESSING_MEGABYTES };

const tooMuch = (why: string): HttpProblem =>
  new HttpProblem(422, 'tooMuch', `${why} Choose fewer parts. The arrangement is as it was.`);

const PROBLEMS: ThreadProblems = {
  stuck: () => tooMuch(`Making these pages takes longer than ${PRESSING_SECONDS} seconds.`),
  memory: () => tooMuch('Making these pages takes more memory than there is for it.'),
  failed: () => tooMuch('These pages could not be made.'),
  cancelled: () => new HttpProblem(499, 'cancelled', 'Nobody waits for these pages any more.'),
};

/** Makes pages with threads that run the built script at `script`, one at a time. */
export const createPresser = (script: URL, bounds: Bounds = BOUNDS): Presser =>
  createThreads<PressAsked, PressAnswer>(script, bounds, PROBLEMS, { atOnce: 1, standby: false }).run;
