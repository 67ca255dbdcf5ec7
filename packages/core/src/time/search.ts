/** Binary search over sorted records, shared by the time maps. */

/**
 * Index of the last item whose key is at or before `value`; -1 where there is none.
 * `items` are in rising order of `key`.
 */
export const lastIndexAtOrBefore = <Item>(
  items: readonly Item[],
  value: number,
  key: (item: Item) => number,
): number => {
  let low = 0;
  let high = items.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (key(items[middle] as Item) <= value) low = middle + 1;
    else high = middle;
  }
  return low - 1;
};

/** Index of the first item whose key is at or after `value`; the number of items where there is none. */
export const firstIndexAtOrAfter = <Item>(
  items: readonly Item[],
  value: number,
  key: (item: Item) => number,
): number => {
  let low = 0;
  let high = items.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (key(items[middle] as Item) < value) low = middle + 1;
    else high = middle;
  }
  return low;
};
