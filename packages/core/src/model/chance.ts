/** Seeded chance, so that a performance is the same each time. */

/** Draws from 0 up to 1, and other shapes made of it. */
export interface Chance {
  /** Uniform, 0 up to 1. */
  next(): number;
  /** Uniform between two values. */
  between(low: number, high: number): number;
  /** Normal, mean 0, standard deviation 1 (Box and Muller, 1958). */
  normal(): number;
  /** True with this probability. */
  chance(probability: number): boolean;
}

/** Mulberry32, a small public-domain generator; `seed` is any whole number. */
export const createChance = (seed: number): Chance => {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    between: (low, high) => low + (high - low) * next(),
    normal: () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()),
    chance: (probability) => next() < probability,
  };
};
