/** Going through the page apart from the roll, and having it follow again. */

import { layoutActions } from '../state/layoutSlice.js';
import { selectBars } from '../state/maps.js';
import { said } from '../state/speechSlice.js';
import type { CommandContext } from './commands/command.js';

/** Turns the page by so many bars, or by as many as it shows (`null`); the roll stays. */
export const turnPage = (
  { dispatch, getState }: Pick<CommandContext, 'dispatch' | 'getState'>,
  way: 1 | -1,
  by: number | null = null,
): void => {
  const state = getState();
  const shown = state.layout.pageBars;
  if (!shown) return;
  const from = state.layout.pageApart ?? shown.first;
  const bars = selectBars(state);
  const last = Math.max(1, bars.length);
  const first = Math.max(1, Math.min(last, from + way * (by ?? shown.last - shown.first + 1)));
  dispatch(layoutActions.pageSetApart(first));
  dispatch(said(`The page begins at bar ${bars[first - 1]?.number ?? first}. The roll stays where it is.`));
};

/** The page follows the roll again, or stays at the bars it shows. */
export const tiePage = ({ dispatch, getState }: Pick<CommandContext, 'dispatch' | 'getState'>): void => {
  const apart = getState().layout.pageApart !== null;
  const shown = getState().layout.pageBars;
  if (!apart && !shown) return;
  dispatch(layoutActions.pageSetApart(apart ? null : (shown?.first ?? null)));
  dispatch(said(apart ? 'The page follows the roll.' : 'The page stays at its bars.'));
};
