/** Says so while only some notes are shown, and ends it. */

import { selectionSize } from '@crispfold/core';
import { counted } from '../../ui/words.js';
import { NarrowedBar } from '../controls/NarrowedBar.js';
import { useAppDispatch } from '../session/desk.js';
import { useAppSelector } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';

export const OnlyTheseBar = () => {
  const dispatch = useAppDispatch();
  const only = useAppSelector(({ selecting }) => selecting.onlyShown);
  if (!only) return null;
  return (
    <NarrowedBar
      label="Only some notes are shown"
      end="Show all notes"
      command="onlyThese"
      onEnd={() => dispatch(selectingActions.onlyTheseShown(null))}
    >
      Only <b>{counted(selectionSize(only), 'note')}</b> are shown and edited; the page and the sound have all.
    </NarrowedBar>
  );
};
