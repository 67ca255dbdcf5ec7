/** What a hand draws in a lane becomes points: freely, straight or curved; held or ramped. No browser here. */

import {
  isPedalLane,
  type Lane,
  type LanePoint,
  laneBounds,
  onRamp,
  type PointDrawn,
  thinned,
  withinLane,
} from '@crispfold/core';
import type { LaneTool } from '../state/lanesSlice.js';

/** How a lane lies on the screen. */
export interface LaneView {
  readonly left: number;
  readonly ticksPerPixel: number;
  readonly width: number;
  readonly height: number;
}

/** Pixels above and below the values, so that points at the bounds can be grabbed. */
export const LANE_MARGIN = 6;

/** The tempo lane shows the tempi in use with some room, not all that there could be. */
export interface LaneScale {
  readonly least: number;
  readonly most: number;
}

/** The scale of a lane with these points. */
export const laneScale = (lane: Lane, points: readonly Pick<LanePoint, 'value' | 'to'>[]): LaneScale => {
  if (lane.kind !== 'tempo') return laneBounds(lane);
  const values = points.flatMap(({ value, to }) => (to === undefined ? [value] : [value, to]));
  const low = Math.min(...values, 240);
  const high = Math.max(...values, 30);
  return { least: Math.max(5, Math.floor(low * 0.6)), most: Math.min(400, Math.ceil(high * 1.4)) };
};

export const yOfValue = ({ height }: LaneView, { least, most }: LaneScale, value: number): number =>
  LANE_MARGIN + (1 - (value - least) / (most - least)) * (height - 2 * LANE_MARGIN);

export const valueOfY = ({ height }: LaneView, { least, most }: LaneScale, y: number): number =>
  Math.max(least, Math.min(most, least + (1 - (y - LANE_MARGIN) / (height - 2 * LANE_MARGIN)) * (most - least)));

/** A place of the hand: ticks and a value of the lane. */
export interface LanePlace {
  readonly tick: number;
  readonly value: number;
}

/** How points are made. */
export interface StrokeWishes {
  readonly tool: Exclude<LaneTool, 'choose'>;
  /** Points ramp to the next, or hold. */
  readonly ramps: boolean;
  /** Of a curve: from -1 to 1. */
  readonly ease: number;
  /** Held values stand on a grid of so many ticks; 1 is no grid. */
  readonly unit: number;
}

/** A pedal that is down all the way. */
const DOWN = 127;

/** So far apart, in ticks, are held points of a free line at least, where there is no grid. */
const LEAST_HELD = 10;

/** The points of a stroke; the places of the hand in the order they were passed. */
export const strokePoints = (lane: Lane, path: readonly LanePlace[], wishes: StrokeWishes): readonly PointDrawn[] => {
  const [first, last] = [path[0], path[path.length - 1]];
  if (!first || !last) return [];
  const tidy = ({ tick, value }: LanePlace, ramp: number | null): PointDrawn => ({
    tick: Math.max(0, Math.round(tick)),
    value: withinLane(lane, value),
    ramp,
  });
  if (path.length === 1 || first.tick === last.tick) return [tidy(last, null)];
  // Notes take their velocity from the line itself.
  const ramps = wishes.ramps || lane.kind === 'velocity';
  if (wishes.tool === 'free') {
    const forward = last.tick >= first.tick ? path : [...path].reverse();
    const points = rising(forward.map((place) => tidy(place, ramps ? 0 : null)));
    return ramps ? thinned(points, lane.kind === 'pitchBend' ? 64 : 1) : held(lane, points, wishes.unit);
  }
  const [from, to] = first.tick <= last.tick ? [first, last] : [last, first];
  // A pedal goes down and comes up; half pedal is drawn freely.
  if (isPedalLane(lane)) return [tidy({ ...from, value: DOWN }, null), tidy({ ...to, value: 0 }, null)];
  const ease = wishes.tool === 'curve' ? wishes.ease : 0;
  const line = [tidy(from, ease), tidy(to, null)];
  return ramps ? line : held(lane, line, wishes.unit);
};

/** Those that go on in time; where the hand went back, the first stays. */
const rising = (points: readonly PointDrawn[]): PointDrawn[] => {
  const kept: PointDrawn[] = [];
  for (const point of points) {
    const before = kept[kept.length - 1];
    if (!before || point.tick > before.tick) kept.push(point);
  }
  return kept;
};

/** A line as values that hold, each on the grid, where it changes. */
const held = (lane: Lane, line: readonly PointDrawn[], unit: number): PointDrawn[] => {
  const [first, last] = [line[0] as PointDrawn, line[line.length - 1] as PointDrawn];
  const step = Math.max(LEAST_HELD, unit);
  const points: PointDrawn[] = [];
  let at = 0;
  for (let tick = first.tick; tick <= last.tick; tick += step) {
    while (at + 1 < line.length && (line[at + 1] as PointDrawn).tick <= tick) at += 1;
    const [from, to] = [line[at] as PointDrawn, line[at + 1]];
    const share = to ? (tick - from.tick) / (to.tick - from.tick) : 0;
    const value = withinLane(lane, to ? onRamp(from.value, to.value, share, from.ramp ?? 0) : from.value);
    if (points[points.length - 1]?.value !== value) points.push({ tick, value, ramp: null });
  }
  return points;
};

/** Two lists in order of place as one, without sorting the long one again. */
export const mergedByTick = (long: readonly LanePoint[], short: readonly LanePoint[]): readonly LanePoint[] => {
  const rising = [...short].sort((a, b) => a.tick - b.tick);
  const merged: LanePoint[] = [];
  let next = 0;
  for (const point of long) {
    for (let own = rising[next]; own && own.tick < point.tick; own = rising[++next]) merged.push(own);
    merged.push(point);
  }
  return [...merged, ...rising.slice(next)];
};

/** A point is grabbed within so many pixels. */
const REACH = 7;

/** The point nearest to a place on the screen, within reach; of stems, the one whose top is nearest. */
export const pointUnder = (
  points: readonly LanePoint[],
  view: LaneView,
  scale: LaneScale,
  x: number,
  y: number,
): LanePoint | undefined => {
  let best: LanePoint | undefined;
  let nearest = REACH;
  for (const point of points) {
    const dx = Math.abs((point.tick - view.left) / view.ticksPerPixel - x);
    if (dx > REACH) continue;
    const distance = Math.max(dx, Math.abs(yOfValue(view, scale, point.value) - y));
    if (distance < nearest) [best, nearest] = [point, distance];
  }
  return best;
};

/** The points within a box of places. */
export const pointsWithin = (points: readonly LanePoint[], a: LanePlace, b: LanePlace): ReadonlySet<number> => {
  const [from, to] = [Math.min(a.tick, b.tick), Math.max(a.tick, b.tick)];
  const [low, high] = [Math.min(a.value, b.value), Math.max(a.value, b.value)];
  return new Set(
    points.filter(({ tick, value }) => tick >= from && tick <= to && value >= low && value <= high).map(({ id }) => id),
  );
};
