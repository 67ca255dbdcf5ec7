/** How the browser starts each worker of a page. */
import { namingForWorker } from '../browser/naming.js';
import type { WorkerStarts } from './engine.js';

export const browserWorkers: WorkerStarts = {
  desk: () => new Worker(new URL('./deskWorker.ts', import.meta.url), { type: 'module', name: namingForWorker() }),
  engraver: () => new Worker(new URL('./engraverWorker.ts', import.meta.url), { type: 'module' }),
  score: () => {
    const worker = new Worker(new URL('./scoreWorker.ts', import.meta.url), { type: 'module' });
    return { line: worker, end: () => worker.terminate() };
  },
  sound: () => new Worker(new URL('./soundWorker.ts', import.meta.url), { type: 'module' }),
};
