/** Playing in: from the beginning of a take to its landing as one Edit. */

import { createTempoMap, landTake } from '@crispfold/core';
import { toast } from 'sonner';
import { counted } from '../../ui/words.js';
import type { Thunk } from '../session/desk.js';
import type { Heard } from '../session/inputs.js';
import { commit } from '../session/saving.js';
import { createTakeRecorder } from '../session/takeRecorder.js';
import { enteringActions } from '../state/enteringSlice.js';
import { selectingActions } from '../state/selectingSlice.js';
import { selectArrangement, selectFrontPart } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import { playRequest } from './playing.js';

/** Opens the bar for playing in, or closes it; a take under way lands first. */
export const turnPlayIn: Thunk = (dispatch, getState, { player, taking }) => {
  const {
    entering: { playIn },
  } = getState();
  if (playIn) {
    if (taking.get()) player.stop();
    dispatch(enteringActions.playInOpened(false));
    return;
  }
  const part = selectFrontPart(getState());
  if (!part) return;
  dispatch(enteringActions.playInOpened(true));
  dispatch(said(`Play in, ${part.name}. Space begins and ends a take, Escape closes.`));
};

/** Begins a take at the playhead, or at the start of the loop. */
const beginTake: Thunk = (dispatch, getState, { player, taking }) => {
  const state = getState();
  const part = selectFrontPart(state);
  const request = dispatch(playRequest());
  const { countIn, metronome } = state.entering.playInWishes;
  if (!part || !request) return;
  player.stop();
  const { loop, arrangement } = request;
  const from = loop ? loop.start : Math.round(player.state.get().tick);
  const map = createTempoMap(arrangement.tempos, arrangement.ppq);
  if (loop) void player.seek(loop.start);
  let began = false;
  const leave = player.state.subscribe(() => {
    const { playing } = player.state.get();
    began ||= playing;
    // What is still held when it stops is held until then.
    const now = player.momentOf(performance.now());
    const take = taking.get();
    if (take && now) take.last.at = now;
    if (began && !playing) dispatch(endTake);
  });
  taking.set({
    partId: part.id,
    from,
    until: loop ? loop.end : null,
    recorder: createTakeRecorder(loop ? map.secondsAt(loop.end) : null),
    leave,
    last: { at: null },
  });
  dispatch(enteringActions.takenCounted(0));
  dispatch(said(countIn > 0 ? `Counting in ${counted(countIn, 'bar')}` : 'Recording'));
  void player.play({ ...request, metronome, taking: { countIn } });
};

/** Lands what was played. */
const endTake: Thunk = (dispatch, getState, { player, taking }) => {
  const take = taking.get();
  if (!take) return;
  take.leave();
  taking.set(null);
  dispatch(enteringActions.takenCounted(null));
  const state = getState();
  const arrangement = selectArrangement(state);
  const { replaces } = state.entering.playInWishes;
  const tick = Math.max(take.from, Math.round(player.state.get().tick));
  const { at } = take.last;
  const { notes, events } = take.recorder.end(at ?? { clock: 0, music: 0 });
  const until = take.until ?? tick;
  const landed = landTake(arrangement, { partId: take.partId, from: take.from, until, notes, events, replaces });
  const first = arrangement.nextNoteId;
  dispatch(commit(landed.edit));
  if (landed.notes > 0)
    dispatch(
      selectingActions.selected(
        new Map([[take.partId, new Set(Array.from({ length: landed.notes }, (_, index) => first + index))]]),
      ),
    );
  void player.seek(take.from);
  const words = [
    landed.notes === 0 ? 'Nothing was played in.' : `${counted(landed.notes, 'note')} played in.`,
    ...(landed.early > 0 ? [`${landed.early} of them before the beginning, kept there.`] : []),
    ...(landed.leftOut > 0 ? [`${landed.leftOut} of the count-in are left out.`] : []),
  ].join(' ');
  dispatch(said(words));
  if (landed.leftOut > 0 || landed.notes === 0) toast(words);
};

/** Begins a take, or ends the one under way. */
export const turnTake: Thunk = (dispatch, _getState, { player, taking }) => {
  if (taking.get()) player.stop();
  else dispatch(beginTake);
};

/** Ends the take under way and keeps nothing of it. */
export const throwAway: Thunk = (dispatch, _getState, { player, taking }) => {
  const take = taking.get();
  if (!take) return;
  take.leave();
  taking.set(null);
  dispatch(enteringActions.takenCounted(null));
  player.stop();
  dispatch(said('The take is thrown away.'));
};

/** What a key or a device does: it sounds, and is taken where a take is under way. */
export const hearInput =
  (heard: Heard): Thunk =>
  (dispatch, getState, { player, taking }) => {
    const state = getState();
    const part = selectFrontPart(state);
    if (!part || !state.entering.playIn) return;
    if (heard.kind === 'note') {
      if (heard.on) void player.strike(part, heard.pitch, heard.velocity);
      else player.letGo(part, heard.pitch);
    }
    const moment = player.momentOf(heard.at);
    const take = taking.get();
    if (!take || !moment) return;
    if (heard.kind === 'message') take.recorder.message(heard.message, moment);
    else if (heard.on) take.recorder.strike(heard.pitch, heard.velocity, moment);
    else take.recorder.letGo(heard.pitch, moment);
    dispatch(enteringActions.takenCounted(take.recorder.count));
  };
