/** The few statistics that the reading of a take, the checks and the charts share. */

/** The middle value, the higher of two; undefined of none. The upper one, so that whole numbers stay whole. */
export const median = (values: Iterable<number>): number | undefined => {
  const sorted = Float64Array.from(values).sort();
  return sorted[sorted.length >> 1];
};
