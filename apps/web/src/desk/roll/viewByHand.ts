/** The view as fingers and the wheel move it. No browser here. */

import { type RollView, zoomPitch, zoomTime } from '../state/rollView.js';

/** A place in the roll, in pixels. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

/** Fingers nearer than this do not zoom in that direction, in pixels. */
const LEAST_SPREAD = 40;

/** One finger went from a place to another while `other` stayed: the view is spread and moved with them. */
export const pinched = (
  view: RollView,
  { before, now, other }: { readonly before: Place; readonly now: Place; readonly other: Place },
  endTick: number,
): RollView => {
  const spread = ({ x, y }: Place) => ({ x: Math.abs(x - other.x), y: Math.abs(y - other.y) });
  const [old, fresh] = [spread(before), spread(now)];
  const middle = { x: (now.x + other.x) / 2, y: (now.y + other.y) / 2 };
  let seen = view;
  if (old.x > LEAST_SPREAD) seen = zoomTime(seen, fresh.x / old.x, middle.x, endTick);
  if (old.y > LEAST_SPREAD) seen = zoomPitch(seen, fresh.y / old.y, middle.y);
  return {
    ...seen,
    left: seen.left - ((now.x - before.x) / 2) * seen.ticksPerPixel,
    top: seen.top - (now.y - before.y) / 2,
  };
};

/** What of a wheel's turn is looked at. */
export interface WheelTurn {
  readonly deltaX: number;
  readonly deltaY: number;
  /** 1 where the turn is counted in lines. */
  readonly deltaMode: number;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
  readonly shiftKey: boolean;
}

/** Pixels of a line. */
const LINE = 16;

/** The wheel at a place: Ctrl zooms in time, Alt in pitch, Shift scrolls across, none down or whichever way it turns. */
export const wheeled = (view: RollView, turn: WheelTurn, { x, y }: Place, endTick: number): RollView => {
  const unit = turn.deltaMode === 1 ? LINE : 1;
  const factor = 1.0025 ** -(turn.deltaY * unit);
  if (turn.ctrlKey || turn.metaKey) return zoomTime(view, factor, x, endTick);
  if (turn.altKey) return zoomPitch(view, factor, y);
  const across = turn.shiftKey ? turn.deltaY : turn.deltaX;
  const down = turn.shiftKey ? 0 : turn.deltaY;
  return { ...view, left: view.left + across * unit * view.ticksPerPixel, top: view.top + down * unit };
};
