/** Looks at files in threads of their own, one at a time. */
import { LOOKING_MEGABYTES, STUCK_SECONDS } from '@crispfold/core';
import { HttpProblem } from '../problems.js';
import { type Bounds, createThreads, type ThreadProblems } from '../threads.js';
import type { Look, LookAnswer, LookAsked } from './looks.js';

const refused = (why: string): HttpProblem => new HttpProblem(422, 'tooMuch', `${why} Nothing was added.`);

const BOUNDS: Bounds = { silentMilliseconds: STUCK_SECONDS * 1000, megabytes: LOOKING_MEGABYTES };

const PROBLEMS: ThreadProblems = {
  stuck: () => refused('Looking at this file came to no end.'),
  memory: () => refused('Looking at this file takes more memory than there is for it.'),
  failed: () => refused('This file could not be looked at.'),
  cancelled: () => new HttpProblem(499, 'cancelled', 'Nobody waits for this file any more.'),
};

/** Looks with threads that run the built script at `script`. */
export const createLook = (script: URL): Look => {
  const { run } = createThreads<LookAsked, LookAnswer>(script, BOUNDS, PROBLEMS, {
    atOnce: 1,
    standby: false,
  });
  return (asked) => run(asked, new AbortController().signal);
};
