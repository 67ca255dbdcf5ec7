/** How large things may get: the one list that changes by hand, imports and screens keep to. */

/** No piece lasts longer than this, in hours… */
export const LONGEST_HOURS = 24;
/** …nor has more bars than this. */
export const MOST_BARS = 100_000;

/** Most parts of an arrangement. */
export const MOST_PARTS = 1000;

/** The longest name of a part, in characters. */
export const LONGEST_PART_NAME = 200;
