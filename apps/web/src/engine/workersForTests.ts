/** Workers in this thread, for where there are no others: things go to them as they go to a worker, copied. */
import { type Endpoint, expose } from 'comlink';
import { createDeskWorker } from './deskDoor.js';
import type { WorkerStarts } from './engine.js';
import { createEngraver } from './engraver.js';
import { createSoundWorker } from './sounding.js';

const lineTo = (works: object): Endpoint => {
  const { port1, port2 } = new MessageChannel();
  expose(works, port2);
  return port1;
};

/** One engraver for all pages, as its code takes long to read. */
export const workersForTests = (): WorkerStarts => {
  const engraver = createEngraver();
  return {
    desk: () => lineTo(createDeskWorker()),
    engraver: () => lineTo(engraver),
    score: () => ({ line: lineTo(engraver), end: () => undefined }),
    sound: () => lineTo(createSoundWorker()),
  };
};
