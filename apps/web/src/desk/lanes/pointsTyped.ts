/** What is typed for the chosen points of a lane: a value and a place, and what becomes of the points. No browser here. */
import { type Lane, type LanePoint, laneBounds, type MeterMap, placeTyped, readValueEntry } from '@crispfold/core';
import { counted } from '../../ui/words.js';

/** What becomes of a point. */
export type PointChange = (point: LanePoint) => LanePoint;

/** How points change, and what a person should know of it; or why not; null where nothing was typed. */
export type TypedForPoints =
  | { readonly change: PointChange; readonly told: string | null }
  | { readonly change: null; readonly told: string }
  | null;

/** The least and the highest value of the points, to a hundredth: one number where they are one. */
export const valuesOf = (points: readonly LanePoint[]): string => {
  const values = points.map(({ value }) => value);
  const [least, most] = [Math.min(...values), Math.max(...values)].map((value) => Math.round(value * 100) / 100);
  return least === most ? String(least) : `${least} to ${most}`;
};

/** A value typed for the points: a number, or +, −, * or / and a number. What lies beyond the lane's bounds is held within. */
export const valueForPoints = (text: string, lane: Lane, points: readonly LanePoint[]): TypedForPoints => {
  if (text.trim() === '') return null;
  const entry = readValueEntry(text);
  if (!entry) return { change: null, told: 'A value is a number, or + − * / and a number.' };
  const { least, most } = laneBounds(lane);
  const beyond = points.filter(({ value }) => entry(value) < least || entry(value) > most).length;
  return {
    change: (point) => ({ ...point, value: entry(point.value) }),
    told: beyond > 0 ? `${counted(beyond, 'value')} held within ${least} to ${most}.` : null,
  };
};

/** A place typed for the first of the points, which the others follow. */
export const placeForPoints = (text: string, meterMap: MeterMap, ppq: number, first: LanePoint): TypedForPoints => {
  if (text.trim() === '') return null;
  const to = placeTyped(meterMap, ppq, text);
  if (!to.ok) return { change: null, told: to.problem.message };
  const by = to.value - first.tick;
  return { change: (point) => ({ ...point, tick: point.tick + by }), told: null };
};
