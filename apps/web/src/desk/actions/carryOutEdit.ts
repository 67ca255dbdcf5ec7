/** Carrying out what a panel has shown: told with the way back, and remembered for "again". */

import type { Arrangement, Edit, Selection } from '@crispfold/core';
import { toast } from 'sonner';
import type { Thunk } from '../session/desk.js';
import { commit, undo } from '../session/saving.js';
import { selectArrangement, selectEditable } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';

/** Tells what was done, with what else is to be known of it, and offers the way back. */
export const tellDone =
  (label: string, description = ''): Thunk<void> =>
  (dispatch) => {
    toast.success(label, {
      ...(description ? { description } : {}),
      action: { label: 'Undo', onClick: () => dispatch(undo()) },
    });
    dispatch(said([label, description].filter(Boolean).join('. ')));
  };

/**
 * Carries out an Edit that was seen before it was done. "Again" makes it anew from what is selected then; `nothing` is
 * said where that changes nothing.
 */
export const carryOutEdit =
  (
    edit: Edit,
    make: (arrangement: Arrangement, selection: Selection) => Edit | null,
    nothing = 'That changes nothing here.',
  ): Thunk<void> =>
  (dispatch, getState, { again }) => {
    dispatch(commit(edit));
    again.set(() => {
      const state = getState();
      const once = make(selectArrangement(state), selectEditable(state));
      dispatch(commit(once));
      dispatch(said(once?.label ?? nothing));
    });
    dispatch(tellDone(edit.label));
  };
