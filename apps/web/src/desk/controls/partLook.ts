/** How parts are told apart: a hue that colour-blind eyes keep apart, and a cut of the note's left edge. */

import type { PartId } from '@crispfold/core';
import { useMemo, useSyncExternalStore } from 'react';
import { currentTheme, subscribeTheme } from '../../browser/theme.js';
import { useAppSelector } from '../state/root.js';

/** The cuts of a note's left edge, in the order parts get them. */
export const EDGES = ['straight', 'slanted', 'notched', 'rounded', 'pointed', 'stepped'] as const;
/** A cut. */
export type Edge = (typeof EDGES)[number];

/** Hues after Okabe and Ito (2008), darkened for ink on paper and lightened for the dark sheet. */
const LIGHT = ['#00619a', '#b14a00', '#00785a', '#a0437e', '#8a6500', '#3b6f8f', '#5a4a9c'];
const DARK = ['#6cb8ea', '#f0925a', '#4cc7a0', '#e39cc8', '#e0b94a', '#9ccbe6', '#b3a6f0'];

/** How one part looks. */
export interface PartLook {
  readonly hue: string;
  readonly edge: Edge;
}

/** The look of the part at `index` in the arrangement's order. */
export const partLook = (index: number, dark: boolean): PartLook => {
  const hues = dark ? DARK : LIGHT;
  return {
    hue: hues[index % hues.length] as string,
    edge: EDGES[(index + Math.floor(index / hues.length)) % EDGES.length] as Edge,
  };
};

/** Looks by part id, in the theme of the moment; the same map for as long as the parts stand in the same order. */
export const usePartLooks = (): ReadonlyMap<PartId, PartLook> => {
  const order = useAppSelector((state) => state.piece.arrangement?.parts.map((part) => part.id).join() ?? '');
  const theme = useSyncExternalStore(subscribeTheme, currentTheme);
  return useMemo(
    () => new Map(order.split(',').map((id, index) => [Number(id), partLook(index, theme === 'dark')])),
    [order, theme],
  );
};
