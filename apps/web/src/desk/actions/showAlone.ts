/** One part alone on view, or all again. */
import type { PartId } from '@crispfold/core';
import type { AppDispatch } from '../session/desk.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import type { RootState } from '../state/root.js';

/** Shows a part alone; where it is alone already, all are shown. */
export const showAlone =
  (id: PartId) =>
  (dispatch: AppDispatch, getState: () => RootState): void => {
    const all = (getState().piece.arrangement?.parts ?? []).map((part) => part.id);
    dispatch(partsShownActions.partAloneToggled({ id, all }));
  };
