/** What was found last of the same starts: a change of pitches leaves them as they were, and all that was found of them. */

/** How answers are kept. */
export interface RecallWays<About> {
  /** True where what was found of one is found of the other. */
  readonly same: (one: About, other: About) => boolean;
  /** How much it takes to keep one, in units of `most`. */
  readonly sizeOf: (about: About) => number;
  /** So much is kept for each piece; as many attacks as all parts of a large score have where left out. */
  readonly most?: number;
}

/** So many attacks: those of a large score's parts once, or a small one's many times. */
const ATTACKS_KEPT = 150_000;

interface Kept<About, Found> {
  readonly about: About;
  readonly found: Found;
}

/**
 * Keeps what was found, by the piece it is of (an object that stays the same while the piece's times do), the newest first,
 * as far as there is room; the newest is kept always. An answer is taken only where it `holds` still. O(kept answers) to
 * look one up.
 */
export const createRecall = <About, Found>({ same, sizeOf, most = ATTACKS_KEPT }: RecallWays<About>) => {
  const pieces = new WeakMap<object, readonly Kept<About, Found>[]>();
  const roomFor = (newestFirst: readonly Kept<About, Found>[]) => {
    let size = 0;
    return newestFirst.filter(({ about }, index) => {
      size += sizeOf(about);
      return index === 0 || size <= most;
    });
  };
  return (piece: object, about: About, make: () => Found, holds: (found: Found) => boolean = () => true): Found => {
    const ofPiece = pieces.get(piece) ?? [];
    const known = ofPiece.find((one) => same(one.about, about) && holds(one.found));
    const newest = known ?? { about, found: make() };
    if (newest !== ofPiece[0]) pieces.set(piece, roomFor([newest, ...ofPiece.filter((one) => one !== known)]));
    return newest.found;
  };
};

/** True where two lists hold the very same items in the same order. */
export const sameItems = <Item>(one: readonly Item[], other: readonly Item[]): boolean =>
  one.length === other.length && one.every((item, index) => item === other[index]);
