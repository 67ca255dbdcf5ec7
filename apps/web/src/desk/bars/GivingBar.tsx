/** Says so while a correction is given to notes one after another: to each that is selected, until it is ended. */

import { sameSelection, selectionSize, wishInWords } from '@crispfold/core';
import { useEffect, useRef } from 'react';
import { correctPage } from '../actions/correcting.js';
import { NarrowedBar } from '../controls/NarrowedBar.js';
import { useAppDispatch } from '../session/desk.js';
import { correctingActions } from '../state/correctingSlice.js';
import { useAppSelector } from '../state/root.js';

export const GivingBar = () => {
  const dispatch = useAppDispatch();
  const giving = useAppSelector(({ correcting }) => correcting.giving);
  const selection = useAppSelector(({ selecting }) => selecting.selection);
  /** What was selected as it began, or was given to last. */
  const given = useRef(selection);
  const wish = useRef(giving);
  useEffect(() => {
    if (!giving || giving !== wish.current) {
      wish.current = giving;
      given.current = selection;
      return;
    }
    if (sameSelection(selection, given.current)) return;
    given.current = selection;
    if (selectionSize(selection) > 0) void dispatch(correctPage(giving, true));
  }, [dispatch, giving, selection]);
  if (!giving) return null;
  return (
    <NarrowedBar
      label="A correction is given to notes one after another"
      end="No longer"
      command="selectNone"
      onEnd={() => dispatch(correctingActions.givingSet(null))}
    >
      <b>{wishInWords(giving)}</b> is given to every note that you select, in the roll or on the page.
    </NarrowedBar>
  );
};
