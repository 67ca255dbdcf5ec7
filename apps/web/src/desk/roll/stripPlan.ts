/** The whole piece as a narrow strip: which part plays where, in columns of a pixel; where the window lies in it. */

import type { PartId } from '@crispfold/core';
import { perObject } from '../../ui/perObject.js';
import type { RollView } from '../state/rollView.js';

/** A stretch in which a part plays, in pixels from the left. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** Parts closer than a pixel's height share rows: with more of them than this, several stand in one. */
export const STRIP_ROWS = 24;

/** The row of each part, from the top, and how many there are. */
export const stripRows = (parts: number): { readonly rowOf: (index: number) => number; readonly rows: number } => {
  const rows = Math.max(1, Math.min(STRIP_ROWS, parts));
  return { rowOf: (index) => Math.floor((index * rows) / Math.max(1, parts)), rows };
};

/**
 * Where notes sound, joined where less than a pixel lies between them; O(n), in order of onset. An edit of one part leaves the
 * notes of the others as they are: their stretches are known.
 */
export const stretchesOf = perObject(
  (
    notes: readonly { readonly onset: number; readonly duration: number }[],
    ticksPerPixel: number,
  ): readonly Stretch[] => {
    const stretches: { from: number; to: number }[] = [];
    let last: { from: number; to: number } | undefined;
    for (const { onset, duration } of notes) {
      const from = Math.floor(onset / ticksPerPixel);
      const to = Math.max(from + 1, Math.ceil((onset + duration) / ticksPerPixel));
      if (last && from <= last.to + 1) {
        if (to > last.to) last.to = to;
      } else {
        last = { from, to };
        stretches.push(last);
      }
    }
    return stretches;
  },
);

/** The columns, in pixels from the left, in which something of the parts given lies; each once. */
export const columnsOf = (
  items: readonly { readonly tick: number; readonly partId: PartId }[],
  parts: ReadonlySet<PartId>,
  scale: number,
): readonly number[] => {
  const columns = new Set<number>();
  for (const { tick, partId } of items) if (parts.has(partId)) columns.add(Math.round(tick * scale));
  return [...columns];
};

/** The window of the roll in a strip of so many pixels, at least wide enough to be taken hold of. */
export const windowIn = (view: RollView, endTick: number, width: number): Stretch => {
  const scale = width / Math.max(1, endTick);
  const from = Math.max(0, view.left * scale);
  const to = Math.min(width, (view.left + view.width * view.ticksPerPixel) * scale);
  const least = 8;
  return to - from >= least
    ? { from, to }
    : { from: Math.min(from, width - least), to: Math.min(from, width - least) + least };
};

/** The view whose window lies about a place of the strip. */
export const viewAt = (view: RollView, endTick: number, width: number, x: number): RollView => ({
  ...view,
  left: (Math.max(0, Math.min(width, x)) / width) * endTick - (view.width * view.ticksPerPixel) / 2,
});

/** Names of sections that have room, left to right; the width of a name comes from the screen. */
export const namesWithRoom = <Name extends { readonly x: number; readonly text: string }>(
  names: readonly Name[],
  widthOf: (text: string) => number,
  width: number,
): readonly Name[] => {
  let free = 0;
  return names.filter(({ x, text }) => {
    const right = x + widthOf(text) + 6;
    if (x < free || right > width) return false;
    free = right;
    return true;
  });
};
