/** The few statistics that the reading of a take, the checks and the charts share. */

import quickselect from 'quickselect';

/** The middle value, the higher of two; undefined of none. The upper one, so that whole numbers stay whole. */
export const median = (values: Iterable<number>): number | undefined => {
  const list = [...values];
  const middle = list.length >> 1;
  quickselect(list, middle);
  return list[middle];
};

/** The value that `share` (0 to 1) of the values lie below; NaN of none. */
export const quantile = (values: readonly number[], share: number): number => {
  const list = [...values];
  const at = Math.min(list.length - 1, Math.floor(list.length * share));
  quickselect(list, at);
  return list[at] ?? Number.NaN;
};
