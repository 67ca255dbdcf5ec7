/** The shape of a recording, as it is drawn. */

/** One pair of peaks for so many samples. */
export const SAMPLES_A_PEAK = 256;

/** The least and the most of each {@link SAMPLES_A_PEAK} samples, in turn, from -128 to 127. */
export const peaksOfSamples = (data: Float32Array): Int8Array<ArrayBuffer> => {
  const peaks = new Int8Array(2 * Math.ceil(data.length / SAMPLES_A_PEAK));
  for (let peak = 0; 2 * peak < peaks.length; peak += 1) {
    let [least, most] = [0, 0];
    const end = Math.min(data.length, (peak + 1) * SAMPLES_A_PEAK);
    for (let at = peak * SAMPLES_A_PEAK; at < end; at += 1) {
      const sample = data[at] as number;
      if (sample < least) least = sample;
      else if (sample > most) most = sample;
    }
    peaks[2 * peak] = Math.max(-128, Math.round(least * 128));
    peaks[2 * peak + 1] = Math.min(127, Math.round(most * 127));
  }
  return peaks;
};
