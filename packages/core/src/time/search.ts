/** Binary search over sorted records: the one search that the maps, the steps and the roll share. */

/** How many items have a key below `value`, or at it where `orAt`; `items` are in rising order of `key`. */
const countBelow = <Item>(
  items: ArrayLike<Item>,
  value: number,
  key: (item: Item) => number,
  orAt: boolean,
): number => {
  let low = 0;
  let high = items.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const at = key(items[middle] as Item);
    if (at < value || (orAt && at === value)) low = middle + 1;
    else high = middle;
  }
  return low;
};

/**
 * Index of the last item whose key is at or before `value`; -1 where there is none. `items` are in rising order of `key`. Where
 * the answer is `near`, or the item after it, nothing is searched.
 */
export const lastIndexAtOrBefore = <Item>(
  items: ArrayLike<Item>,
  value: number,
  key: (item: Item) => number,
  near = -1,
): number => {
  const { length } = items;
  if (near >= 0 && near < length && key(items[near] as Item) <= value) {
    for (let next = near + 1; next <= near + 2; next += 1)
      if (next >= length || key(items[next] as Item) > value) return next - 1;
  }
  return countBelow(items, value, key, true) - 1;
};

/** Index of the first item whose key is at or after `value`; the number of items where there is none. */
export const firstIndexAtOrAfter = <Item>(items: ArrayLike<Item>, value: number, key: (item: Item) => number): number =>
  countBelow(items, value, key, false);
