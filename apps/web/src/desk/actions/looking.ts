/** Ways of looking that several commands share: fitting, revealing, bars about a place. */

import { selectBars } from '../state/maps.js';
import { selectEndTick, selectRows, selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import { boxAround, bringToView, fitBox, type RollView, withinMusic, yOfPitch } from '../state/rollView.js';
import type { RootState } from '../state/root.js';
import { selectShownParts } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import type { CommandContext } from './commands/command.js';

/** Changes what the roll shows, within the music. */
export const changeView = (
  { dispatch, getState }: Pick<CommandContext, 'dispatch' | 'getState'>,
  change: (view: RollView, state: RootState) => RollView,
): void => {
  const state = getState();
  dispatch(rollActions.viewSet(withinMusic(change(selectView(state), state), selectRows(state), selectEndTick(state))));
};

/** Fits all shown parts. */
export const fitAll = (context: CommandContext): void =>
  changeView(context, (view, state) => {
    const box = boxAround(selectShownParts(state).flatMap((part) => part.notes));
    return box ? fitBox(view, selectRows(state), { ...box, start: 0 }) : view;
  });

const FIRST_BARS = 8;

/** The first look: the first bars, wide enough to read, and every row that is used. */
export const firstLook = (context: CommandContext): void =>
  changeView(context, (view, state) => {
    const box = boxAround(selectShownParts(state).flatMap((part) => part.notes));
    const end = selectBars(state)[FIRST_BARS - 1]?.end;
    return box && end ? fitBox(view, selectRows(state), { ...box, start: 0, end: Math.min(end, box.end) }) : view;
  });

/** Brings notes to view: in time, and in pitch where they lie outside. */
export const reveal = (context: CommandContext, tick: number, pitch: number): void =>
  changeView(context, (view, current) => {
    const y = yOfPitch(view, selectRows(current), pitch);
    const hidden = y < 0 || y > view.height - view.rowHeight;
    return { ...bringToView(view, tick), top: hidden ? view.top + y - view.height / 2 : view.top };
  });

/** The view begins at a place, the playhead goes along, and a key leads back. */
export const goToPlace = (context: CommandContext, tick: number, words: string): void => {
  context.dispatch(rollActions.viewKept());
  changeView(context, (view) => ({ ...view, left: tick }));
  void context.desk.player.seek(tick);
  context.dispatch(said(words));
};

/** The bars in which something lies, `around` more on either side. */
export const barsAbout = (
  state: RootState,
  start: number,
  end: number,
  around: number,
): { readonly start: number; readonly end: number } => {
  const bars = selectBars(state);
  const first = bars.findIndex((bar) => bar.end > start);
  const last = bars.findIndex((bar) => bar.end >= end);
  return {
    start: bars[Math.max(0, first - around)]?.start ?? 0,
    end: bars[Math.min(bars.length - 1, (last < 0 ? bars.length - 1 : last) + around)]?.end ?? end,
  };
};
