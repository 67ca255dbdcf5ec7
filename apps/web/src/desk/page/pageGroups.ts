/** Which staves are engraved together: all of a small score, or the front part first and the others a few at a time. */
import type { PartId } from '@crispfold/core';

/** So many parts fit a window: they are one picture, and share their bar lines. */
const MOST_TOGETHER = 6;
/** Parts of a larger score are engraved so many at a time, as they scroll into the strip. */
const A_GROUP = 4;

/** Groups of parts in the order in which they stand in the strip; `partIds` are in the arrangement's order. */
export const pageGroups = (partIds: readonly PartId[], front: PartId | null): readonly (readonly PartId[])[] => {
  if (partIds.length === 0) return [];
  if (partIds.length <= MOST_TOGETHER) return [partIds];
  const first = front !== null && partIds.includes(front) ? [front] : [];
  const others = partIds.filter((id) => id !== front || first.length === 0);
  const groups: PartId[][] = first.length > 0 ? [first] : [];
  for (let at = 0; at < others.length; at += A_GROUP) groups.push(others.slice(at, at + A_GROUP));
  return groups;
};
