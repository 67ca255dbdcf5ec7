/** When commands apply: each answers null, or why not in words. */

import { historyLength, selectionSize } from '@crispfold/core';
import { chosenFinding } from '../../state/findings.js';
import type { RootState } from '../../state/root.js';
import { selectEditable, selectFrontPart, selectReached } from '../../state/selectors.js';

type Condition = (state: RootState) => string | null;

/** A part is in front and is seen. */
export const frontShown: Condition = (state) => {
  const front = selectFrontPart(state);
  if (!front) return 'There is no part yet. Add one from a .mid file.';
  return state.partsShown.hidden.includes(front.id) ? `${front.name} is hidden. Show it to work on it.` : null;
};

/** The front part is seen and can be edited: it takes what is new. */
export const frontOpen: Condition = (state) => {
  const why = frontShown(state);
  const front = selectFrontPart(state);
  return (
    why ??
    (front && state.partsShown.locked.includes(front.id) ? `${front.name} is locked. Unlock it to edit it.` : null)
  );
};

/** A part is in reach. */
export const somethingInReach: Condition = (state) => {
  if (selectReached(state).length > 0) return null;
  return state.selecting.reach === 'front' ? frontOpen(state) : 'Every part is hidden or locked. Show or unlock one.';
};

/** Notes of shown parts are selected. */
export const somethingSelected: Condition = (state) => {
  if (selectionSize(selectEditable(state)) > 0) return null;
  return selectionSize(state.selecting.selection) > 0
    ? 'What is selected is hidden or locked. Show or unlock its part to work on it.'
    : 'Nothing is selected. Select notes first.';
};

/** A finding is chosen. */
export const findingChosen: Condition = (state) => (chosenFinding(state) ? null : 'Choose a finding first.');

/** The chosen finding has a mend. */
export const findingMendable: Condition = (state) => {
  const chosen = chosenFinding(state);
  if (!chosen) return 'Choose a finding first.';
  return chosen.mend ? null : 'There is no mend for this one: it is for the ear and the eye.';
};

/** The chosen finding has a second way. */
export const findingHasOther: Condition = (state) => {
  const chosen = chosenFinding(state);
  if (!chosen) return 'Choose a finding first.';
  return chosen.otherMend ? null : 'There is no other reading of this one.';
};

/** Something can be undone. */
export const canUndo: Condition = ({ piece }) => (piece.history.position > 0 ? null : 'There is nothing to undo.');

/** Something can be redone. */
export const canRedo: Condition = ({ piece: { history } }) =>
  history.position < historyLength(history) ? null : 'There is nothing to redo.';

/** A recording lies beside the notes. */
export const recordingThere: Condition = ({ piece }) =>
  piece.arrangement?.recording ? null : 'There is no recording yet: drop one on the Desk.';
