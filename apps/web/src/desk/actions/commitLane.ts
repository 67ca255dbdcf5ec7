/** Changes of lanes: of the tempo, with the notes in their bars or at their times, as the person chose. */

import { type Edit, keepingTimes } from '@crispfold/core';
import type { AppDispatch } from '../session/desk.js';
import { commit } from '../session/saving.js';
import type { RootState } from '../state/root.js';

/** Carries a change out; answers it as it was carried out. */
export const commitLane =
  (edit: Edit | null) =>
  (dispatch: AppDispatch, getState: () => RootState): Edit | null => {
    const {
      piece: { arrangement },
      lanes,
    } = getState();
    const carried = edit && arrangement && lanes.hand.keepTimes ? keepingTimes(arrangement, edit) : edit;
    dispatch(commit(carried));
    return carried;
  };
