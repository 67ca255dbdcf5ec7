/** Says so while one voice, hand or staff is brought forward, and ends it; keeps up which notes those are. */

import { selectionSize } from '@crispfold/core';
import { useEffect, useMemo } from 'react';
import { counted } from '../../ui/words.js';
import { NarrowedBar } from '../controls/NarrowedBar.js';
import { useAppDispatch } from '../session/desk.js';
import { useLayers } from '../session/useWritten.js';
import { forwardName, forwardNotes } from '../state/forward.js';
import { useAppSelector } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';

export const ForwardBar = () => {
  const dispatch = useAppDispatch();
  const forward = useAppSelector(({ selecting }) => selecting.forward);
  const notes = useAppSelector(({ selecting }) => selecting.forwardNotes);
  const parts = useAppSelector(({ piece }) => piece.arrangement?.parts);
  const layers = useLayers();
  const found = useMemo(() => forward && forwardNotes(forward, layers.values()), [forward, layers]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the page says is of the parts that it was made of
  useEffect(() => {
    if (found) dispatch(selectingActions.forwardFound({ ...found, parts: parts ?? [] }));
  }, [dispatch, found]);
  if (!forward) return null;
  return (
    <NarrowedBar
      label="One voice or staff is brought forward"
      end="All notes again"
      onEnd={() => dispatch(selectingActions.broughtForward(null))}
    >
      <b>{forwardName(forward)}</b>: only its {counted(notes ? selectionSize(notes) : 0, 'note')} are picked and edited.
    </NarrowedBar>
  );
};
