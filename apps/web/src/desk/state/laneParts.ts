/** Whose values lanes show: the front part's, or those of all parts in reach. */

import { type Arrangement, type Lane, type LanePoint, type Part, type PartId, pointsOf } from '@crispfold/core';
import { createSelector } from '@reduxjs/toolkit';
import type { RootState } from './root.js';

import { selectFrontPart, selectReached } from './selectors.js';

/** The parts that lanes are about, the front part last: it is drawn above the others. */
export const selectLaneParts: (state: RootState) => readonly Part[] = createSelector(
  ({ selecting }: RootState) => selecting.reach,
  selectReached,
  selectFrontPart,
  (reach, reached, front) => {
    // The front part's values are seen where it cannot be edited, too.
    if (reach === 'front') return front ? [front] : [];
    return [...reached.filter(({ id }) => id !== front?.id), ...reached.filter(({ id }) => id === front?.id)];
  },
);

/** The points of one part, or of the tempo, which is nobody's. */
export interface PointsOfPart {
  readonly partId: PartId | null;
  readonly points: readonly LanePoint[];
}

/** A lane's points part by part; those of the tempo once. */
export const laneByPart = (
  arrangement: Pick<Arrangement, 'tempos'>,
  parts: readonly Part[],
  lane: Lane,
): readonly PointsOfPart[] =>
  lane.kind === 'tempo'
    ? [{ partId: null, points: pointsOf(arrangement, undefined, lane) }]
    : parts.map((part) => ({ partId: part.id, points: pointsOf(arrangement, part, lane) }));

/** Points of several lists in order of place; the same list where there is one. */
export const allInOrder = (lists: readonly (readonly LanePoint[])[]): readonly LanePoint[] =>
  lists.length === 1 ? (lists[0] as readonly LanePoint[]) : lists.flat().sort((a, b) => a.tick - b.tick);

/** True where a line goes into the front part alone: a message that others need not have. */
export const isOfOnePart = ({ kind }: Lane): boolean => kind !== 'velocity' && kind !== 'tempo';

/** The hue of each stem in the velocity lane. */
export const stemHues = (
  lane: Lane,
  byPart: readonly PointsOfPart[],
  hueOf: (partId: PartId) => string,
): ((id: number) => string) => {
  const [first] = byPart;
  if (lane.kind !== 'velocity' || !first || first.partId === null) return () => '';
  if (byPart.length === 1) {
    const hue = hueOf(first.partId);
    return () => hue;
  }
  const hues = new Map<number, string>();
  for (const { partId, points } of byPart)
    if (partId !== null) for (const { id } of points) hues.set(id, hueOf(partId));
  return (id) => hues.get(id) ?? '';
};
