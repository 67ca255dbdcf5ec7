/** Says so while one voice, hand or staff is brought forward, and ends it; keeps up which notes those are. */

import { selectionSize } from '@crispfold/core';
import { useEffect, useMemo } from 'react';
import { counted } from '../../ui/words.js';
import { NarrowedBar } from '../controls/NarrowedBar.js';
import { useAppDispatch } from '../session/dispatching.js';
import { useLayers } from '../session/useWritten.js';
import { deskActions } from '../state/deskSlice.js';
import { forwardChoices, forwardName, forwardNotes, forwardOffered } from '../state/forward.js';

import { useAppSelector } from '../state/root.js';

export const ForwardBar = () => {
  const dispatch = useAppDispatch();
  const forward = useAppSelector(({ desk }) => desk.forward);
  const notes = useAppSelector(({ desk }) => desk.forwardNotes);
  const layers = useLayers();
  const found = useMemo(() => forward && forwardNotes(forward, layers.values()), [forward, layers]);
  useEffect(() => {
    if (found) dispatch(deskActions.forwardFound(found));
  }, [dispatch, found]);
  useEffect(() => forwardOffered.set(() => forwardChoices(layers.values())), [layers]);
  if (!forward) return null;
  return (
    <NarrowedBar
      label="One voice or staff is brought forward"
      end="All notes again"
      onEnd={() => dispatch(deskActions.broughtForward(null))}
    >
      <b>{forwardName(forward)}</b>: only its {counted(notes ? selectionSize(notes) : 0, 'note')} are picked and edited.
    </NarrowedBar>
  );
};
