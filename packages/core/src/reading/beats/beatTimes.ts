/** When each beat is: a smooth line through strikes at their places, so that no single one decides. */
import type { Placed } from './beatSearch.js';
import type { Strike } from './strikes.js';

/** How far a strike is from its place, and how much a beat differs from the one before, in seconds (standard deviations). */
const [SPREAD, BENDS] = [0.018, 0.02];

/**
 * The times of beats `first` to `last`, whole beats from that of the first strike: least squares of the strikes' distances
 * from the straight lines between beats, and of the differences of neighbouring beats (a smoothing spline on a grid; Whittaker
 * 1923). O(beats).
 */
export const beatTimes = (
  strikes: readonly Strike[],
  placed: readonly Placed[],
  first: number,
  last: number,
): readonly number[] => {
  const count = last - first + 1;
  const usual = placed.reduce((sum, { beat }) => sum + beat, 0) / Math.max(1, placed.length);
  // Bands of a symmetric matrix: the diagonal and the two beside it.
  const [d0, d1, d2, right] = [0, 1, 2, 3].map(() => new Float64Array(count)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const add = (array: Float64Array, index: number, value: number) => {
    array[index] = (array[index] as number) + value;
  };
  for (const { strike, position } of placed) {
    const { at, count: together, weight } = strikes[strike] as Strike;
    const low = Math.min(count - 2, Math.max(0, Math.floor(position) - first));
    const share = position - first - low;
    const certainty = (Math.min(4, together) * Math.min(1.5, 0.5 + weight / 2)) / SPREAD ** 2;
    add(d0, low, certainty * (1 - share) ** 2);
    add(d0, low + 1, certainty * share ** 2);
    add(d1, low, certainty * share * (1 - share));
    add(right, low, certainty * (1 - share) * at);
    add(right, low + 1, certainty * share * at);
  }
  const stiff = 1 / (BENDS * usual * 2) ** 2;
  for (let index = 0; index + 2 < count; index += 1) {
    const row = [1, -2, 1] as const;
    for (const [own, value] of row.entries()) {
      add(d0, index + own, stiff * value * value);
      if (own < 2) add(d1, index + own, stiff * value * (row[own + 1] as number));
      if (own < 1) add(d2, index + own, stiff * value * (row[own + 2] as number));
    }
  }
  // Where nothing speaks of a beat the matrix still has an inverse.
  for (let index = 0; index < count; index += 1) add(d0, index, 1e-9);
  return solved(d0, d1, d2, right);
};

/** Solves a symmetric system of two bands beside the diagonal (Cholesky's way, LDLᵀ). */
const solved = (d0: Float64Array, d1: Float64Array, d2: Float64Array, right: Float64Array): number[] => {
  const count = d0.length;
  const [diagonal, one, two] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
  const get = (array: Float64Array, index: number) => (index < 0 ? 0 : (array[index] as number));
  for (let index = 0; index < count; index += 1) {
    const [dOne, dTwo] = [get(diagonal, index - 1), get(diagonal, index - 2)];
    diagonal[index] = get(d0, index) - get(one, index - 1) ** 2 * dOne - get(two, index - 2) ** 2 * dTwo;
    const pivot = diagonal[index] as number;
    one[index] = (get(d1, index) - get(one, index - 1) * get(two, index - 1) * dOne) / pivot;
    two[index] = get(d2, index) / pivot;
  }
  const result = new Array<number>(count).fill(0);
  for (let index = 0; index < count; index += 1)
    result[index] =
      get(right, index) -
      (index > 0 ? get(one, index - 1) * (result[index - 1] as number) : 0) -
      (index > 1 ? get(two, index - 2) * (result[index - 2] as number) : 0);
  for (let index = 0; index < count; index += 1) result[index] = (result[index] as number) / get(diagonal, index);
  for (let index = count - 1; index >= 0; index -= 1)
    result[index] =
      (result[index] as number) -
      get(one, index) * (result[index + 1] ?? 0) -
      get(two, index) * (result[index + 2] ?? 0);
  return result;
};
