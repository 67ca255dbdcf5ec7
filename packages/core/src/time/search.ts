/** Binary search over sorted records: the one search that the maps, the steps and the roll share. */

/** How many items stand before the first for which `holds` fails; it must hold for some first items and for none after. */
export const partitionPoint = <Item>(items: readonly Item[], holds: (item: Item, index: number) => boolean): number => {
  let low = 0;
  let high = items.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(items[middle] as Item, middle)) low = middle + 1;
    else high = middle;
  }
  return low;
};

/**
 * Index of the last item whose key is at or before `value`; -1 where there is none.
 * `items` are in rising order of `key`.
 */
export const lastIndexAtOrBefore = <Item>(items: readonly Item[], value: number, key: (item: Item) => number): number =>
  partitionPoint(items, (item) => key(item) <= value) - 1;

/** Index of the first item whose key is at or after `value`; the number of items where there is none. */
export const firstIndexAtOrAfter = <Item>(items: readonly Item[], value: number, key: (item: Item) => number): number =>
  partitionPoint(items, (item) => key(item) < value);
