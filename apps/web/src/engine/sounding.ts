/** What is worked out from a recording: the peaks that are drawn, and its attacks. */
import { type Attack, findAttacks, peaksOfSamples, type Samples } from '@crispfold/core';
import { transfer } from 'comlink';

const MOST_KEPT = 2;

/** What the worker for recordings does. */
export const createSoundWorker = () => {
  /** The recordings given last, by their keys: one may still be on its way when another takes its place. */
  const kept = new Map<number, Samples>();
  return {
    /** Takes a recording, one channel of it; answers its peaks as pairs of least and most, from -128 to 127. */
    take(key: number, data: Float32Array, rate: number): Int8Array {
      kept.set(key, { rate, data });
      for (const old of [...kept.keys()].sort((a, b) => b - a).slice(MOST_KEPT)) kept.delete(old);
      const peaks = peaksOfSamples(data);
      return transfer(peaks, [peaks.buffer]);
    },
    attacks(key: number, sensitivity: number): Attack[] {
      const samples = kept.get(key);
      return samples ? findAttacks(samples, sensitivity) : [];
    },
  };
};

/** What the screen asks of it. */
export type SoundWorker = ReturnType<typeof createSoundWorker>;
