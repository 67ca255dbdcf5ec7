/** Playing in: from the beginning of a take to its landing as one Edit. */

import { createTempoMap, landTake, type PartId } from '@crispfold/core';
import { toast } from 'sonner';
import { createValueStore } from '../../ui/valueStore.js';
import { counted } from '../../ui/words.js';
import type { AppDispatch } from '../session/dispatching.js';
import type { Heard } from '../session/inputs.js';
import { commit } from '../session/saving.js';
import { type Moment, player } from '../session/sound/player.js';
import { deskActions } from '../state/deskSlice.js';
import type { RootState } from '../state/root.js';
import { selectArrangement, selectFrontPart } from '../state/selectors.js';
import { spoken } from '../state/speak.js';
import { playRequest } from './playing.js';
import { createTakeRecorder, type TakeRecorder } from './takeRecorder.js';

type Thunk = (dispatch: AppDispatch, getState: () => RootState) => void;

/** A take under way; places in ticks. */
interface Taking {
  readonly partId: PartId;
  readonly from: number;
  readonly until: number | null;
  readonly recorder: TakeRecorder;
  /** Ends listening for the end. */
  readonly leave: () => void;
  /** Where the music is just now. */
  readonly last: { at: Moment | null };
}

let taking: Taking | null = null;

/** How many notes the take under way has; null while there is none. */
export const takenCount = createValueStore<number | null>(null);

/** Opens the bar for playing in, or closes it; a take under way lands first. */
export const turnPlayIn: Thunk = (dispatch, getState) => {
  const { playIn } = getState().desk;
  if (playIn) {
    if (taking) player.stop();
    dispatch(deskActions.playInOpened(false));
    return;
  }
  const part = selectFrontPart(getState());
  if (!part) return;
  dispatch(deskActions.playInOpened(true));
  spoken.set(`Play in, ${part.name}. Space begins and ends a take, Escape closes.`);
};

/** Begins a take at the playhead, or at the start of the loop. */
const beginTake: Thunk = (dispatch, getState) => {
  const state = getState();
  const part = selectFrontPart(state);
  const request = playRequest(state);
  const { countIn, metronome } = state.desk.playInWishes;
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
    if (taking && now) taking.last.at = now;
    if (began && !playing) dispatch(endTake);
  });
  taking = {
    partId: part.id,
    from,
    until: loop ? loop.end : null,
    recorder: createTakeRecorder(loop ? map.secondsAt(loop.end) : null),
    leave,
    last: { at: null },
  };
  takenCount.set(0);
  spoken.set(countIn > 0 ? `Counting in ${counted(countIn, 'bar')}` : 'Recording');
  void player.play({ ...request, metronome, taking: { countIn } });
};

/** Lands what was played. */
const endTake: Thunk = (dispatch, getState) => {
  const take = taking;
  if (!take) return;
  take.leave();
  taking = null;
  takenCount.set(null);
  const state = getState();
  const arrangement = selectArrangement(state);
  const { replaces } = state.desk.playInWishes;
  const tick = Math.max(take.from, Math.round(player.state.get().tick));
  const { at } = take.last;
  const { notes, events } = take.recorder.end(at ?? { clock: 0, music: 0 });
  const until = take.until ?? tick;
  const landed = landTake(arrangement, { partId: take.partId, from: take.from, until, notes, events, replaces });
  const first = arrangement.nextNoteId;
  dispatch(commit(landed.edit));
  if (landed.notes > 0)
    dispatch(
      deskActions.selected(
        new Map([[take.partId, new Set(Array.from({ length: landed.notes }, (_, index) => first + index))]]),
      ),
    );
  void player.seek(take.from);
  const said = [
    landed.notes === 0 ? 'Nothing was played in.' : `${counted(landed.notes, 'note')} played in.`,
    ...(landed.early > 0 ? [`${landed.early} of them before the beginning, kept there.`] : []),
    ...(landed.leftOut > 0 ? [`${landed.leftOut} of the count-in are left out.`] : []),
  ].join(' ');
  spoken.set(said);
  if (landed.leftOut > 0 || landed.notes === 0) toast(said);
};

/** Begins a take, or ends the one under way. */
export const turnTake: Thunk = (dispatch) => {
  if (taking) player.stop();
  else dispatch(beginTake);
};

/** Ends the take under way and keeps nothing of it. */
export const throwAway: Thunk = () => {
  if (!taking) return;
  taking.leave();
  taking = null;
  takenCount.set(null);
  player.stop();
  spoken.set('The take is thrown away.');
};

/** What a key or a device does: it sounds, and is taken where a take is under way. */
export const hearInput =
  (heard: Heard): Thunk =>
  (_, getState) => {
    const state = getState();
    const part = selectFrontPart(state);
    if (!part || !state.desk.playIn) return;
    if (heard.kind === 'note') {
      if (heard.on) void player.strike(part, heard.pitch, heard.velocity);
      else player.letGo(part, heard.pitch);
    }
    const moment = player.momentOf(heard.at);
    if (!taking || !moment) return;
    if (heard.kind === 'message') taking.recorder.message(heard.message, moment);
    else if (heard.on) taking.recorder.strike(heard.pitch, heard.velocity, moment);
    else taking.recorder.letGo(heard.pitch, moment);
    takenCount.set(taking.recorder.count);
  };
