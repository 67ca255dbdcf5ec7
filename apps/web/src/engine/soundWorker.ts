/** What is worked out from a recording: the peaks that are drawn, and its attacks. */
import { type Attack, findAttacks, peaksOfSamples } from '@crispfold/core';
import { expose, transfer } from 'comlink';

let data: Float32Array = new Float32Array(0);
let rate = 44_100;

const worker = {
  /** Takes a recording, one channel of it; answers its peaks as pairs of least and most, from -128 to 127. */
  take(samples: Float32Array, samplesPerSecond: number): Int8Array {
    data = samples;
    rate = samplesPerSecond;
    const peaks = peaksOfSamples(samples);
    return transfer(peaks, [peaks.buffer]);
  },
  attacks: (sensitivity: number): Attack[] => findAttacks({ rate, data }, sensitivity),
};

/** What the screen asks of it. */
export type SoundWorker = typeof worker;

expose(worker);
