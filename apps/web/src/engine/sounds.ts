/** The worker for recordings, started when there is one. */
import { transfer, wrap } from 'comlink';
import type { SoundWorker } from './soundWorker.js';

let worker: SoundWorker | undefined;

const soundWorker = (): SoundWorker => {
  worker ??= wrap(
    new Worker(new URL('./soundWorker.ts', import.meta.url), { type: 'module' }),
  ) as unknown as SoundWorker;
  return worker;
};

/** Gives the worker a recording, which it keeps; answers what is drawn of it. */
export const peaksOf = async (key: number, samples: Float32Array<ArrayBuffer>, rate: number): Promise<Int8Array> =>
  soundWorker().take(key, transfer(samples, [samples.buffer]), rate);

/** The attacks of the recording that was given under a key. */
export const attacksOf = async (key: number, sensitivity: number): Promise<ReturnType<SoundWorker['attacks']>> =>
  soundWorker().attacks(key, sensitivity);
