/**
 * Where tones begin in a recording: peaks of the spectral flux (the sum of what grows from one short spectrum to the next;
 * S. Dixon, "Onset Detection Revisited", DAFx 2006; J. P. Bello and others, "A Tutorial on Onset Detection in Music Signals",
 * IEEE Transactions on Speech and Audio Processing 13, 2005; S. Böck and G. Widmer, "Maximum Filter Vibrato Suppression for
 * Onset Detection", DAFx 2013), each placed exactly by where the sound itself grows most.
 */
import FFT from 'fft.js';

/** A beginning of a tone. */
export interface Attack {
  /** Seconds from the start of the recording. */
  readonly time: number;
  /** How much stands out: the flux above that around it, in its standard deviations. */
  readonly strength: number;
}

/** One channel of a recording. */
export interface Samples {
  readonly rate: number;
  /** From -1 to 1. */
  readonly data: Float32Array;
}

/** From one spectrum to the next, and how long each is, in seconds. */
const HOP = 0.005;
const WINDOW = 0.023;
/** Loudness as it is heard: the logarithm of so many times the magnitude, so that soft attacks count beside loud ones. */
const COMPRESSION = 100;
/** A spectrum is compared with the one so many places before, and with its neighbours there: what only wavers does not count. */
const LAG = 3;
/** A peak is the highest of so many spectra to each side, and stands above the mean of three times as many before it. */
const PEAK_REACH = 6;
const MEAN_REACH = 3 * PEAK_REACH;
/** By how many standard deviations a peak stands above that mean; what a person asks for shifts it. */
const THRESHOLD = 0.35;
/** Two attacks are no nearer than this, in seconds. */
const NEAREST = 0.03;
/** How far about its peak an attack is looked for, and over what time its growth is measured, in seconds. */
const SEARCH = 0.02;
const GROWTH = 0.006;

/** Spectra a second, and their flux. */
const fluxOf = ({
  rate,
  data,
}: Samples): { readonly hop: number; readonly flux: Float64Array; readonly size: number } => {
  const hop = Math.max(1, Math.round(rate * HOP));
  const size = 2 ** Math.max(5, Math.round(Math.log2(rate * WINDOW)));
  const fft = new FFT(size);
  const window = Float64Array.from({ length: size }, (_, at) => 0.5 - 0.5 * Math.cos((2 * Math.PI * at) / size));
  const frame = new Float64Array(size);
  const spectrum = new Float64Array(2 * size);
  const count = Math.max(0, Math.floor(data.length / hop));
  const flux = new Float64Array(count);
  // Spectra of the last places, the newest at the end.
  const kept = Array.from({ length: LAG + 1 }, () => new Float64Array(size / 2));
  for (let index = 0; index < count; index += 1) {
    // The spectrum of a place is that of the sound about it.
    const from = index * hop - size / 2;
    for (let at = 0; at < size; at += 1) frame[at] = (data[from + at] ?? 0) * (window[at] as number);
    fft.realTransform(spectrum, frame);
    const now = kept.shift() as Float64Array<ArrayBuffer>;
    for (let bin = 0; bin < size / 2; bin += 1) {
      const magnitude = Math.hypot(spectrum[2 * bin] as number, spectrum[2 * bin + 1] as number) / (size / 4);
      now[bin] = Math.log1p(COMPRESSION * magnitude);
    }
    kept.push(now);
    const before = kept[0] as Float64Array;
    let sum = 0;
    for (let bin = 1; bin < size / 2 - 1; bin += 1) {
      const loudest = Math.max(before[bin - 1] as number, before[bin] as number, before[bin + 1] as number);
      sum += Math.max(0, (now[bin] as number) - loudest);
    }
    flux[index] = sum;
  }
  return { hop, flux, size };
};

/** The mean is 0 and the standard deviation 1 after it; silence stays 0. */
const normalised = (values: Float64Array): Float64Array => {
  const mean = values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
  const variance = values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / Math.max(1, values.length);
  const deviation = Math.sqrt(variance);
  return deviation < 1e-9 ? new Float64Array(values.length) : values.map((value) => (value - mean) / deviation);
};

/** Energy up to each sample, of the signal's differences: low tones swing slowly and would hide what begins. */
const energyUpTo = ({ data }: Samples): Float64Array => {
  const sums = new Float64Array(data.length + 1);
  for (let at = 0; at < data.length; at += 1) {
    const difference = (data[at] as number) - (at > 0 ? (data[at - 1] as number) : 0);
    sums[at + 1] = (sums[at] as number) + difference * difference;
  }
  return sums;
};

/** Where, about a place, the sound grows most, in samples. */
const whereItGrows = (energy: Float64Array, about: number, rate: number): number => {
  const reach = Math.round(rate * SEARCH);
  const span = Math.max(2, Math.round(rate * GROWTH));
  const step = Math.max(1, Math.round(rate / 2000));
  const last = energy.length - 1;
  const between = (from: number, to: number): number =>
    (energy[Math.max(0, Math.min(last, to))] as number) - (energy[Math.max(0, Math.min(last, from))] as number);
  const floor = between(about - 4 * reach, about + 4 * reach) * (span / (8 * reach)) * 0.02 + 1e-12;
  let best = about;
  let most = Number.NEGATIVE_INFINITY;
  for (let at = about - reach; at <= about + reach; at += step) {
    const growth = Math.log((between(at, at + span) + floor) / (between(at - span, at) + floor));
    if (growth > most) [best, most] = [at, growth];
  }
  return best;
};

/**
 * The attacks of a recording, in order of time. `sensitivity` from 0 (only the plainest) to 1 (also the faintest); 0.5 is
 * for ordinary music. Takes O(n log n) in the samples.
 */
export const findAttacks = (samples: Samples, sensitivity = 0.5): Attack[] => {
  const { hop, flux } = fluxOf(samples);
  const heights = normalised(flux);
  const energy = energyUpTo(samples);
  const threshold = THRESHOLD * 4 ** (1 - 2 * Math.max(0, Math.min(1, sensitivity)));
  const attacks: Attack[] = [];
  let sum = 0;
  let first = 0;
  let past = 0;
  heights.forEach((height, index) => {
    while (past < Math.min(heights.length, index + PEAK_REACH + 1)) sum += heights[past++] as number;
    while (first < index - MEAN_REACH) sum -= heights[first++] as number;
    const strength = height - sum / (past - first);
    if (height <= 0 || strength < threshold) return;
    for (let other = index - PEAK_REACH; other <= index + PEAK_REACH; other += 1) {
      if (other !== index && (heights[other] ?? 0) > height) return;
    }
    const time = Math.max(0, whereItGrows(energy, index * hop, samples.rate)) / samples.rate;
    const before = attacks.at(-1);
    if (!before || time - before.time >= NEAREST) attacks.push({ time, strength });
    else if (strength > before.strength) attacks[attacks.length - 1] = { time, strength };
  });
  return attacks;
};
