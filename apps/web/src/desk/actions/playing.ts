/** Starts, stops and refreshes playing from the Desk's state. */

import { applyEdit, type PartId } from '@crispfold/core';
import type { WrittenLayer } from '../../engine/protocol.js';
import { type PlayRequest, player } from '../session/sound/player.js';
import { needSound, recordingSound } from '../session/sound/recordingSound.js';
import { boxAround } from '../state/rollView.js';
import type { RootState } from '../state/root.js';
import { audibleParts } from '../state/selectors.js';
import { triedEdit } from '../state/tried.js';
import { barsAbout } from './looking.js';

/** No more than so much of what a step would change is heard (quarters). */
const LONGEST_TRIED = 32;

let layers: ReadonlyMap<PartId, WrittenLayer> = new Map();

/** Keeps the newest Written layers at hand for playing across the crease. */
export const offerWritten = (newest: ReadonlyMap<PartId, WrittenLayer>): void => {
  layers = newest;
};

/** What the Desk would play now; undefined before an arrangement is open. */
export const playRequest = ({ desk }: RootState): PlayRequest | undefined => {
  const { arrangement, creaseTick, loop, loopOn, metronome } = desk;
  if (!arrangement) return undefined;
  return {
    arrangement,
    written: [...layers.values()],
    creaseTick,
    audible: audibleParts(desk, arrangement.parts),
    loop: loopOn && loop && loop.end > loop.start ? loop : null,
    metronome,
    sound: soundToHear(desk),
  };
};

/** The recording's sound where it is to be heard and is there; where it is not there yet it is fetched, and joins in. */
const soundToHear = ({ id, arrangement }: RootState['desk']): AudioBuffer | null => {
  const recording = arrangement?.recording;
  if (!id || !recording || recording.muted) return null;
  const state = recordingSound.get();
  if (state.kind === 'ready' && state.id === recording.id) return state.sound.buffer;
  needSound(id, recording);
  return null;
};

/** Plays, or stops what plays. */
export const togglePlaying = (state: RootState): void => {
  if (player.state.get().playing) player.stop();
  else {
    const request = playRequest(state);
    if (request) void player.play(request);
  }
};

/** Plays a stretch once, as the Desk shows it. */
export const playRange = (state: RootState, range: { readonly start: number; readonly end: number }): void => {
  const request = playRequest(state);
  if (request) void player.play({ ...request, loop: null, stretches: [{ ...range, creaseTick: request.creaseTick }] });
};

/** Plays the bars that a tried Edit changes, without it and then with it. */
export const hearTried = (state: RootState): void => {
  const edit = triedEdit.get();
  const request = playRequest(state);
  if (!edit || !request) return;
  const touched = edit.changes.flatMap((change) =>
    change.kind === 'notes' ? [...change.added, ...change.removed, ...change.changed.map(({ after }) => after)] : [],
  );
  const box = boxAround(touched);
  if (!box) return;
  const range = barsAbout(state, box.start, Math.min(box.end, box.start + LONGEST_TRIED * request.arrangement.ppq), 0);
  const stretches = [
    { ...range, creaseTick: null, words: 'without' },
    { ...range, creaseTick: null, words: 'with', arrangement: applyEdit(request.arrangement, edit) },
  ];
  void player.play({ ...request, loop: null, stretches });
};

/** Plays a stretch as played, then as written. */
export const playBackToBack = (state: RootState, range: { readonly start: number; readonly end: number }): void => {
  const request = playRequest(state);
  if (!request) return;
  const stretches = [
    { ...range, creaseTick: null, words: 'as played' },
    { ...range, creaseTick: 0, words: 'as written' },
  ];
  void player.play({ ...request, loop: null, stretches });
};
