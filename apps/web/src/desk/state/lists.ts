/** Small things that slices do with lists. */

/** A list with an item that was not in it, or without one that was. */
export const toggled = <Item>(list: readonly Item[], item: Item): readonly Item[] =>
  list.includes(item) ? list.filter((other) => other !== item) : [...list, item];
