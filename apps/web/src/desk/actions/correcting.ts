/** Corrections of the page by hand: a wish about the selected notes, or about the bar that is worked in, becomes one Edit. */

import {
  type BarOverride,
  barCorrection,
  barsToASystem,
  type MapWish,
  type PageWish,
  selectionSize,
} from '@crispfold/core';
import { toast } from 'sonner';
import { askWorker } from '../../engine/engine.js';
import { isSessionOver } from '../../engine/protocol.js';
import type { AppDispatch } from '../session/dispatching.js';
import { commit } from '../session/saving.js';
import { player } from '../session/sound/player.js';
import { deskActions } from '../state/deskSlice.js';
import { selectBars, selectMeterMap } from '../state/maps.js';
import type { RootState } from '../state/root.js';
import { selectEditable, selectedOnView, selectFrontPart } from '../state/selectors.js';
import { spoken } from '../state/speak.js';

type Thunk<Done> = (dispatch: AppDispatch, getState: () => RootState) => Done;

/** Corrections are made one after the other, each of what the one before left. */
let inTurn: Promise<void> = Promise.resolve();

/**
 * Does what is wished of the selected notes, or says why it cannot be. While corrections are given to notes one after another
 * it is also the one that the next notes get.
 */
export const correctPage =
  (wish: PageWish, toOneAfterAnother = false): Thunk<Promise<void>> =>
  (dispatch, getState) => {
    const { id, giveOn } = getState().desk;
    if (giveOn && !toOneAfterAnother) dispatch(deskActions.givingSet(wish));
    const once = async () => {
      const state = getState();
      const selection = selectEditable(state);
      if (state.desk.id !== id || selectionSize(selection) === 0) return;
      try {
        const { made } = await askWorker('correct', { selection, wish });
        if (getState().desk.id !== id) return;
        if (!made.ok) {
          toast.error(made.problem.message);
          spoken.set(made.problem.message);
          return;
        }
        dispatch(commit(made.value));
        spoken.set(made.value.label);
      } catch (error) {
        if (!isSessionOver(error)) toast.error(`The page could not be corrected: ${(error as Error).message}`);
      }
    };
    inTurn = inTurn.then(once);
    return inTurn;
  };

/** Changes key or meter from the bar that is worked in on, for all parts, or says why it cannot be. */
export const changeMap =
  (wish: MapWish): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { id } = getState().desk;
    try {
      const { made } = await askWorker('changeMap', { bar: barInHand(getState()), wish });
      if (getState().desk.id !== id) return;
      if (made.ok) dispatch(commit(made.value));
      else toast.error(made.problem.message);
      spoken.set(made.ok ? made.value.label : made.problem.message);
    } catch (error) {
      if (!isSessionOver(error)) toast.error(`That could not be changed: ${(error as Error).message}`);
    }
  };

/** The number of the bar that is worked in: of the first selected note, else under the playhead. */
export const barInHand = (state: RootState): number => {
  const first = selectedOnView(state).reduce((least, note) => Math.min(least, note.onset), Number.POSITIVE_INFINITY);
  return selectMeterMap(state).barAt(Number.isFinite(first) ? first : player.state.get().tick).number;
};

/** Has a clef, a system or a page begin with the bar that is worked in, or takes that back. */
export const correctBar =
  (make: (bar: number) => BarOverride): Thunk<void> =>
  (dispatch, getState) => {
    const part = selectFrontPart(getState());
    if (!part) return;
    const edit = barCorrection(part, make(barInHand(getState())));
    dispatch(commit(edit));
    spoken.set(edit.label);
  };

/** So many bars to a system from the bar that is worked in on; null leaves it to the page. */
export const divideSystems =
  (each: number | null): Thunk<void> =>
  (dispatch, getState) => {
    const state = getState();
    const part = selectFrontPart(state);
    if (!part) return;
    const numbers = selectBars(state).map(({ number }) => number);
    const edit = barsToASystem(part, numbers, barInHand(state), each);
    if (edit) dispatch(commit(edit));
    spoken.set(edit?.label ?? 'The systems begin there already.');
  };
