/** Carrying out what a panel has shown: told with the way back, and remembered for "again". */

import type { Arrangement, Edit, Selection } from '@crispfold/core';
import { toast } from 'sonner';
import type { AppDispatch } from '../session/dispatching.js';
import { commit, undo } from '../session/saving.js';
import type { RootState } from '../state/root.js';
import { selectArrangement, selectEditable } from '../state/selectors.js';
import { spoken } from '../state/speak.js';
import { lastDone } from './commands/command.js';

type Thunk<Done> = (dispatch: AppDispatch, getState: () => RootState) => Done;

/** Tells what was done, with what else is to be known of it, and offers the way back. */
export const tellDone =
  (label: string, description = ''): Thunk<void> =>
  (dispatch) => {
    toast.success(label, {
      ...(description ? { description } : {}),
      action: { label: 'Undo', onClick: () => dispatch(undo()) },
    });
    spoken.set([label, description].filter(Boolean).join('. '));
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
  (dispatch) => {
    dispatch(commit(edit));
    lastDone.set({
      act: ({ dispatch: send, getState }) => {
        const state = getState();
        const again = make(selectArrangement(state), selectEditable(state));
        send(commit(again));
        spoken.set(again?.label ?? nothing);
      },
    });
    dispatch(tellDone(edit.label));
  };
