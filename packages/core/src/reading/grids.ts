/** Grids by note value: their names, and the nearest of their points. */

import type { Grid } from '../model/stepParameters.js';
import { barHolding } from '../time/meterMap.js';
import type { StepContext } from './context.js';

/** The grid's names and values as the command line and the screens offer them. */
export const GRIDS: readonly { readonly id: string; readonly name: string; readonly grid: Grid }[] = [
  { id: 'auto', name: 'Auto, beat by beat', grid: 'auto' },
  { id: '1/4', name: 'Quarter', grid: 1 / 4 },
  { id: '1/8', name: 'Eighth', grid: 1 / 8 },
  { id: '1/16', name: 'Sixteenth', grid: 1 / 16 },
  { id: '1/32', name: 'Thirty-second', grid: 1 / 32 },
  { id: '1/8t', name: 'Eighth triplet', grid: 1 / 12 },
  { id: '1/16t', name: 'Sixteenth triplet', grid: 1 / 24 },
];

/**
 * The nearest point of a grid of `unit` ticks, where the second of each two points lies at `swing` percent of the pair. The
 * grid starts anew in each bar, so that it follows meters that the unit does not divide.
 */
export const nearestGridPoint = (at: number, context: StepContext, unit: number, swing: number): number => {
  const bar = barHolding(context.bars, at);
  const start = bar?.start ?? 0;
  const end = bar?.end ?? Number.POSITIVE_INFINITY;
  const pair = Math.floor((at - start) / (2 * unit));
  const points = [0, (2 * unit * swing) / 100, 2 * unit].map((p) => Math.min(end, start + pair * 2 * unit + p));
  return points.reduce((best, point) => (Math.abs(point - at) < Math.abs(best - at) ? point : best));
};
