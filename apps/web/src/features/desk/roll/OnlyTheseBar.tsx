/** Says so while only some notes are shown, and ends it. */
import { selectionSize } from '@crispfold/core';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { counted } from '../../../ui/words.js';
import { deskActions } from '../deskSlice.js';
import { NarrowedBar } from './NarrowedBar.js';

export const OnlyTheseBar = () => {
  const dispatch = useAppDispatch();
  const only = useAppSelector(({ desk }) => desk.onlyShown);
  if (!only) return null;
  return (
    <NarrowedBar
      label="Only some notes are shown"
      end="Show all notes"
      command="onlyThese"
      onEnd={() => dispatch(deskActions.onlyTheseShown(null))}
    >
      Only <b>{counted(selectionSize(only), 'note')}</b> are shown and edited; the page and the sound have all.
    </NarrowedBar>
  );
};
