/** The shape of the recording behind the notes, where it is wanted there. */

import { useEffect, useMemo } from 'react';
import { useAppDispatch } from '../session/desk.js';
import { needSound } from '../session/sound/recordingSound.js';
import { selectTempoMap } from '../state/maps.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import type { WavePicture } from './paintWave.js';

/** What is drawn; null where nothing is. */
export const useWaveBehind = (): Omit<WavePicture, 'height' | 'hue'> | null => {
  const dispatch = useAppDispatch();
  const { recording } = useAppSelector(selectArrangement);
  const wanted = useAppSelector(({ looking }) => looking.seeing.recordingBehind);
  const tempoMap = useAppSelector(selectTempoMap);
  const state = useAppSelector(({ recording }) => recording.sound);
  const arrangementId = useAppSelector(({ piece }) => piece.id);
  // It may be wanted here alone, with no strip and no panel that asks for it.
  useEffect(() => {
    if (wanted && arrangementId && recording) dispatch(needSound(arrangementId, recording));
  }, [wanted, arrangementId, recording, dispatch]);
  return useMemo(() => {
    if (!wanted || !recording || state.kind !== 'ready' || state.id !== recording.id) return null;
    return { ...state.sound, offset: recording.offset, tempoMap };
  }, [wanted, recording, state, tempoMap]);
};
