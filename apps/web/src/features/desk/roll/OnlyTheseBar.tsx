/** Says so while only some notes are shown, and ends it. */
import { selectionSize } from '@crispfold/core';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import { keyOf } from '../commands/keyTable.js';
import { deskActions } from '../deskSlice.js';

export const OnlyTheseBar = () => {
  const dispatch = useAppDispatch();
  const only = useAppSelector(({ desk }) => desk.onlyShown);
  if (!only) return null;
  return (
    <section
      aria-label="Only some notes are shown"
      className="flex items-center gap-3 border-t border-strong bg-shade px-3 py-1 text-sm"
    >
      <span className="flex-1">
        Only <b>{counted(selectionSize(only), 'note')}</b> are shown and edited; the page and the sound have all.
      </span>
      <Button hint={keyOf('onlyThese')} onClick={() => dispatch(deskActions.onlyTheseShown(null))}>
        Show all notes
      </Button>
    </section>
  );
};
