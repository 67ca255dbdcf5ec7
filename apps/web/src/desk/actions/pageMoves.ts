/** Going through the page apart from the roll, and having it follow again. */

import { deskActions } from '../state/deskSlice.js';
import { selectBars } from '../state/maps.js';
import { pageBars } from '../state/pageBars.js';
import { spoken } from '../state/speak.js';
import type { CommandContext } from './commands/command.js';

/** Turns the page by so many bars, or by as many as it shows (`null`); the roll stays. */
export const turnPage = (
  { dispatch, getState }: Pick<CommandContext, 'dispatch' | 'getState'>,
  way: 1 | -1,
  by: number | null = null,
): void => {
  const shown = pageBars.get();
  if (!shown) return;
  const state = getState();
  const from = state.desk.pageApart ?? shown.first;
  const bars = selectBars(state);
  const last = Math.max(1, bars.length);
  const first = Math.max(1, Math.min(last, from + way * (by ?? shown.last - shown.first + 1)));
  dispatch(deskActions.pageSetApart(first));
  spoken.set(`The page begins at bar ${bars[first - 1]?.number ?? first}. The roll stays where it is.`);
};

/** The page follows the roll again, or stays at the bars it shows. */
export const tiePage = ({ dispatch, getState }: Pick<CommandContext, 'dispatch' | 'getState'>): void => {
  const apart = getState().desk.pageApart !== null;
  const shown = pageBars.get();
  if (!apart && !shown) return;
  dispatch(deskActions.pageSetApart(apart ? null : (shown?.first ?? null)));
  spoken.set(apart ? 'The page follows the roll.' : 'The page stays at its bars.');
};
