/** A tempo from taps. */

/** After a pause of so many seconds taps begin anew. */
export const TAPS_BREAK = 2.5;
/** The tempi that taps can mean, in beats a minute. */
const [SLOWEST, FASTEST] = [20, 400];

/** The newest taps that belong together: those since the last long pause, at most sixteen. Times in seconds. */
export const tapsTogether = (taps: readonly number[]): readonly number[] => {
  let first = taps.length - 1;
  while (first > 0 && (taps[first] as number) - (taps[first - 1] as number) <= TAPS_BREAK) first -= 1;
  return taps.slice(Math.max(0, first, taps.length - 16));
};

/**
 * Beats a minute of taps at these seconds: the slope of a line through them, so that no single hurried tap decides. Null
 * for fewer than three.
 */
export const tempoOfTaps = (taps: readonly number[]): number | null => {
  const together = tapsTogether(taps);
  if (together.length < 3) return null;
  const count = together.length;
  const middle = (count - 1) / 2;
  const mean = together.reduce((sum, time) => sum + time, 0) / count;
  let [along, across] = [0, 0];
  together.forEach((time, index) => {
    along += (index - middle) * (time - mean);
    across += (index - middle) ** 2;
  });
  const beat = along / across;
  return beat > 0 ? Math.max(SLOWEST, Math.min(FASTEST, 60 / beat)) : null;
};
