/** Commands that play. */
import { changeRecording } from '@crispfold/core';
import { commit } from '../../session/saving.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { playbackActions } from '../../state/playbackSlice.js';
import { selectEndTick, selectView } from '../../state/rollSelectors.js';
import { boxAround } from '../../state/rollView.js';
import { selectArrangement, selectedOnView } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { type Switch, switched } from '../../state/switched.js';
import { barsAbout } from '../looking.js';
import { hearTried, playBackToBack, togglePlaying } from '../playing.js';
import { turnPlayIn } from '../playingIn.js';
import { type CommandContext, inGroup } from './command.js';
import { frontOpen, recordingThere, somethingSelected } from './conditions.js';

/** A command that turns a setting on or off. */
export const flip =
  (what: Switch) =>
  ({ dispatch }: CommandContext): void => {
    dispatch(switched(what));
  };

const loopSelection = ({ dispatch, getState }: CommandContext): void => {
  const box = boxAround(selectedOnView(getState()));
  if (box) dispatch(playbackActions.loopSet({ start: box.start, end: box.end }));
};

/** The loop, else the selection, else the bars in view: as played, then as written. */
const compare = ({ dispatch, getState }: CommandContext): void => {
  const state = getState();
  const {
    playback: { loop, loopOn },
  } = state;
  const box = boxAround(selectedOnView(state));
  const view = selectView(state);
  const range =
    loop && loopOn
      ? loop
      : box
        ? barsAbout(state, box.start, box.end, 0)
        : barsAbout(state, view.left, Math.min(view.left + view.width * view.ticksPerPixel, selectEndTick(state)), 0);
  dispatch(playBackToBack(range));
};

const command = inGroup('Play');

export const PLAY_COMMANDS = [
  command('play', 'Play or stop', ({ dispatch }) => dispatch(togglePlaying())),
  command('start', 'Go back to the start', ({ desk }) => void desk.player.seek(0)),
  command('loop', 'Switch the loop on or off', flip('loopOn'), ({ playback }) =>
    playback.loop ? null : 'There is no loop yet: drag in the ruler, or loop the selection.',
  ),
  command('loopSelection', 'Loop the selection', loopSelection, somethingSelected),
  command('compare', 'Hear it as played, then as written', compare),
  command(
    'hearStep',
    'Hear what is tried: without, then with',
    ({ dispatch }) => dispatch(hearTried()),
    ({ stepping }) =>
      stepping.tried ? null : 'Open the settings of a step first: what it would do can then be heard.',
  ),
  command(
    'recordingHeard',
    'Hear the recording along, or not',
    ({ dispatch, getState }) => {
      const arrangement = selectArrangement(getState());
      const muted = !arrangement.recording?.muted;
      dispatch(commit(changeRecording(arrangement, muted ? 'Silence the recording' : 'Hear the recording', { muted })));
      dispatch(said(muted ? 'The recording is silent.' : 'The recording is heard along.'));
    },
    recordingThere,
  ),
  command('sounds', 'Choose what parts sound by…', ({ dispatch }) => dispatch(layoutActions.toolShown('sounds'))),
  command('panic', 'Silence everything at once', ({ dispatch, desk }) => {
    desk.player.panic();
    dispatch(said('Everything is silent.'));
  }),
  command('metronome', 'Switch the metronome on or off', flip('metronome')),
  command('playIn', 'Play in: record into the front part', ({ dispatch }) => dispatch(turnPlayIn), frontOpen),
  command('hearEdits', 'Hear notes while editing, or not', flip('hearEdits')),
];
