/** Key finding by correlation with the probe-tone profiles of Krumhansl and Kessler (Psychological Review 89, 1982). */

/** A key: sharps (positive) or flats (negative) of its signature, -7 to 7. */
export interface Key {
  readonly fifths: number;
  readonly minor: boolean;
}

/** Probe-tone ratings from the tonic up (Krumhansl and Kessler 1982; from memory). */
const MAJOR = [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88];
const MINOR = [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17];

/** Signature of the major key on each pitch class, within six sharps or flats. */
const MAJOR_FIFTHS = [0, -5, 2, -3, 4, -1, 6, 1, -4, 3, -2, 5];

const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

const correlation = (a: readonly number[], b: readonly number[]): number => {
  const meanA = mean(a);
  const meanB = mean(b);
  let product = 0;
  let squareA = 0;
  let squareB = 0;
  a.forEach((value, index) => {
    const da = value - meanA;
    const db = (b[index] as number) - meanB;
    product += da * db;
    squareA += da * da;
    squareB += db * db;
  });
  return squareA * squareB === 0 ? 0 : product / Math.sqrt(squareA * squareB);
};

/** How long each pitch class sounds, C first. */
export const pitchClassWeights = (
  notes: readonly { readonly pitch: number; readonly duration: number }[],
): readonly number[] => {
  const weights = Array<number>(12).fill(0);
  for (const note of notes) weights[note.pitch % 12] = (weights[note.pitch % 12] as number) + note.duration;
  return weights;
};

/** The best-fitting key of pitch classes weighed by how long they sound; C major where none does. */
export const findKey = (weights: readonly number[]): Key => {
  let best: Key = { fifths: 0, minor: false };
  let highest = 0;
  for (let tonic = 0; tonic < 12; tonic += 1) {
    const fromTonic = weights.map((_, index) => weights[(index + tonic) % 12] as number);
    const major = correlation(fromTonic, MAJOR);
    const minor = correlation(fromTonic, MINOR);
    if (major > highest) {
      highest = major;
      best = { fifths: MAJOR_FIFTHS[tonic] as number, minor: false };
    }
    if (minor > highest) {
      highest = minor;
      best = { fifths: MAJOR_FIFTHS[(tonic + 3) % 12] as number, minor: true };
    }
  }
  return best;
};
