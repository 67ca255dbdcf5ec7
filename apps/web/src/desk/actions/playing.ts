/** Starts, stops and refreshes playing from the Desk's state. */

import { applyEdit } from '@crispfold/core';
import type { Thunk } from '../session/desk.js';
import type { PlayRequest } from '../session/sound/player.js';
import { needSound } from '../session/sound/recordingSound.js';
import { boxAround } from '../state/rollView.js';
import { audibleParts } from '../state/selectors.js';
import { barsAbout } from './looking.js';

/** A stretch of the music, in ticks. */
interface Range {
  readonly start: number;
  readonly end: number;
}

/** No more than so much of what a step would change is heard (quarters). */
const LONGEST_TRIED = 32;

/** What the Desk would play now; undefined before an arrangement is open. */
export const playRequest =
  (): Thunk<PlayRequest | undefined> =>
  (dispatch, getState, { link }) => {
    const { piece, looking, playback, partsShown } = getState();
    const { arrangement } = piece;
    const { loop, loopOn, metronome } = playback;
    if (!arrangement) return undefined;
    return {
      arrangement,
      written: [...link.layers.get().values()],
      creaseTick: looking.creaseTick,
      audible: audibleParts(partsShown, arrangement.parts),
      loop: loopOn && loop && loop.end > loop.start ? loop : null,
      metronome,
      sound: dispatch(soundToHear()),
    };
  };

/** The recording's sound where it is to be heard and is there; where it is not there yet it is fetched, and joins in. */
const soundToHear = (): Thunk<AudioBuffer | null> => (dispatch, getState) => {
  const { piece, recording: known } = getState();
  const recording = piece.arrangement?.recording;
  if (!piece.id || !recording || recording.muted) return null;
  const { sound } = known;
  if (sound.kind === 'ready' && sound.id === recording.id) return sound.sound.buffer;
  dispatch(needSound(piece.id, recording));
  return null;
};

/** Plays, or stops what plays. */
export const togglePlaying =
  (): Thunk =>
  (dispatch, _getState, { player }) => {
    if (player.state.get().playing) player.stop();
    else {
      const request = dispatch(playRequest());
      if (request) void player.play(request);
    }
  };

/** Plays a stretch once, as the Desk shows it. */
export const playRange =
  (range: Range): Thunk =>
  (dispatch, _getState, { player }) => {
    const request = dispatch(playRequest());
    if (!request) return;
    void player.play({ ...request, loop: null, stretches: [{ ...range, creaseTick: request.creaseTick }] });
  };

/** Plays the bars that a tried Edit changes, without it and then with it. */
export const hearTried =
  (): Thunk =>
  (dispatch, getState, { player }) => {
    const state = getState();
    const edit = state.stepping.tried;
    const request = dispatch(playRequest());
    if (!edit || !request) return;
    const touched = edit.changes.flatMap((change) =>
      change.kind === 'notes' ? [...change.added, ...change.removed, ...change.changed.map(({ after }) => after)] : [],
    );
    const box = boxAround(touched);
    if (!box) return;
    const range = barsAbout(
      state,
      box.start,
      Math.min(box.end, box.start + LONGEST_TRIED * request.arrangement.ppq),
      0,
    );
    const stretches = [
      { ...range, creaseTick: null, words: 'without' },
      { ...range, creaseTick: null, words: 'with', arrangement: applyEdit(request.arrangement, edit) },
    ];
    void player.play({ ...request, loop: null, stretches });
  };

/** Plays a stretch as played, then as written. */
export const playBackToBack =
  (range: Range): Thunk =>
  (dispatch, _getState, { player }) => {
    const request = dispatch(playRequest());
    if (!request) return;
    const stretches = [
      { ...range, creaseTick: null, words: 'as played' },
      { ...range, creaseTick: 0, words: 'as written' },
    ];
    void player.play({ ...request, loop: null, stretches });
  };
