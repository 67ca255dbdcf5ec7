/** Changes of notes, with the controllers under them where the person wants these to go along. */

import { type Edit, type Selection, withControllers } from '@crispfold/core';
import type { AppDispatch } from '../session/desk.js';
import { commit } from '../session/saving.js';
import type { RootState } from '../state/root.js';

/** Carries a change of notes out; `copied` are the notes that it makes copies of. */
export const commitNotes =
  (edit: Edit | null, copied?: Selection) =>
  (dispatch: AppDispatch, getState: () => RootState): void => {
    const {
      piece: { arrangement },
      editing: { controllersToo },
    } = getState();
    dispatch(commit(edit && arrangement && controllersToo ? withControllers(arrangement, edit, copied) : edit));
  };
