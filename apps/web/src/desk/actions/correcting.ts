/** Corrections of the page by hand: a wish about the selected notes, or about the bar that is worked in, becomes one Edit. */

import {
  type BarOverride,
  barCorrection,
  barsToASystem,
  type MapWish,
  type PageWish,
  selectionSize,
  selectionWithin,
} from '@crispfold/core';
import { toast } from 'sonner';
import { isSessionOver } from '../../engine/protocol.js';
import type { Thunk } from '../session/desk.js';
import { commit } from '../session/saving.js';
import type { Player } from '../session/sound/player.js';
import { correctingActions } from '../state/correctingSlice.js';
import { selectBars, selectMeterMap } from '../state/maps.js';
import type { RootState } from '../state/root.js';
import { selectArrangement, selectEditable, selectedOnView, selectFrontPart } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';

/**
 * Does what is wished of the notes that are selected when it is wished, or says why it cannot be. While corrections are given to notes one after another
 * it is also the one that the next notes get.
 */
export const correctPage =
  (wish: PageWish, toOneAfterAnother = false): Thunk<Promise<void>> =>
  (dispatch, getState, { engine, corrections }) => {
    const {
      piece: { id },
      correcting: { giveOn },
    } = getState();
    if (giveOn && !toOneAfterAnother) dispatch(correctingActions.givingSet(wish));
    const asked = selectEditable(getState());
    const once = async () => {
      const state = getState();
      if (state.piece.id !== id) return;
      const selection = selectionWithin(asked, selectArrangement(state));
      if (selectionSize(selection) === 0) return;
      try {
        const { made } = await engine.ask('correct', { selection, wish });
        if (getState().piece.id !== id) return;
        if (!made.ok) {
          toast.error(made.problem.message);
          dispatch(said(made.problem.message));
          return;
        }
        dispatch(commit(made.value));
        dispatch(said(made.value.label));
      } catch (error) {
        if (!isSessionOver(error)) toast.error(`The page could not be corrected: ${(error as Error).message}`);
      }
    };
    return corrections.take(once);
  };

/** Changes key or meter from the bar that is worked in on, for all parts, or says why it cannot be. */
export const changeMap =
  (wish: MapWish): Thunk<Promise<void>> =>
  async (dispatch, getState, { engine, player }) => {
    const {
      piece: { id },
    } = getState();
    try {
      const { made } = await engine.ask('changeMap', { bar: barInHand(getState(), player), wish });
      if (getState().piece.id !== id) return;
      if (made.ok) dispatch(commit(made.value));
      else toast.error(made.problem.message);
      dispatch(said(made.ok ? made.value.label : made.problem.message));
    } catch (error) {
      if (!isSessionOver(error)) toast.error(`That could not be changed: ${(error as Error).message}`);
    }
  };

/** The number of the bar that is worked in: of the first selected note, else under the playhead. */
export const barInHand = (state: RootState, { state: playhead }: Pick<Player, 'state'>): number => {
  const first = selectedOnView(state).reduce((least, note) => Math.min(least, note.onset), Number.POSITIVE_INFINITY);
  return selectMeterMap(state).barAt(Number.isFinite(first) ? first : playhead.get().tick).number;
};

/** Has a clef, a system or a page begin with the bar that is worked in, or takes that back. */
export const correctBar =
  (make: (bar: number) => BarOverride): Thunk<void> =>
  (dispatch, getState, { player }) => {
    const part = selectFrontPart(getState());
    if (!part) return;
    const edit = barCorrection(part, make(barInHand(getState(), player)));
    dispatch(commit(edit));
    dispatch(said(edit.label));
  };

/** So many bars to a system from the bar that is worked in on; null leaves it to the page. */
export const divideSystems =
  (each: number | null): Thunk<void> =>
  (dispatch, getState, { player }) => {
    const state = getState();
    const part = selectFrontPart(state);
    if (!part) return;
    const numbers = selectBars(state).map(({ number }) => number);
    const edit = barsToASystem(part, numbers, barInHand(state, player), each);
    if (edit) dispatch(commit(edit));
    dispatch(said(edit?.label ?? 'The systems begin there already.'));
  };
