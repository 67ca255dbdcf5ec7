/** The two workers, started when first needed. */
import { type Remote, wrap } from 'comlink';
import type { DeskWorker } from './deskWorker.js';
import type { EngraverWorker } from './engraverWorker.js';

let desk: Remote<DeskWorker> | undefined;
let engraver: Remote<EngraverWorker> | undefined;

/** The worker that runs the plan. */
export const deskWorker = (): Remote<DeskWorker> => {
  desk ??= wrap<DeskWorker>(new Worker(new URL('./deskWorker.ts', import.meta.url), { type: 'module' }));
  return desk;
};

/** The worker that engraves. */
export const engraverWorker = (): Remote<EngraverWorker> => {
  engraver ??= wrap<EngraverWorker>(new Worker(new URL('./engraverWorker.ts', import.meta.url), { type: 'module' }));
  return engraver;
};
