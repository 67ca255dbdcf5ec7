/** Commands of the lanes under the roll and of the tempo. */
import { type Lane, laneKey, laneName, pauseOn } from '@crispfold/core';
import { commit } from '../../session/saving.js';
import type { CommandId } from '../../state/keyTable.js';
import { lanesActions } from '../../state/lanesSlice.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { selectArrangement, selectedOnView } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { switched } from '../../state/switched.js';
import { correctPage } from '../correcting.js';
import { inGroup } from './command.js';
import { somethingSelected } from './conditions.js';

const command = inGroup('Lanes and tempo');

/** How much longer a pause makes a note (common practice: about twice). */
const PAUSE = 2;

const turn = (id: CommandId, lane: Lane) =>
  command(id, `Lane of ${laneName(lane).toLowerCase()}, or not`, ({ dispatch }) => {
    dispatch(lanesActions.laneTurned(laneKey(lane)));
    // The keys are the lane's once it is there.
    requestAnimationFrame(() => document.getElementById(`lane-${laneKey(lane)}`)?.focus());
  });

export const LANE_COMMANDS = [
  turn('laneVelocity', { kind: 'velocity' }),
  turn('laneTempo', { kind: 'tempo' }),
  turn('laneExpression', { kind: 'controller', controller: 11 }),
  turn('laneModulation', { kind: 'controller', controller: 1 }),
  turn('lanePedal', { kind: 'controller', controller: 64 }),
  turn('laneVolume', { kind: 'controller', controller: 7 }),
  turn('laneBend', { kind: 'pitchBend' }),
  command('noLanes', 'Take all lanes away', ({ dispatch }) => dispatch(lanesActions.lanesShown([]))),
  command('controllersToo', 'Controllers go with their notes, or not', ({ dispatch, getState }) => {
    dispatch(switched('controllersToo'));
    dispatch(
      said(
        getState().editing.controllersToo
          ? 'Controllers go with notes that are moved, copied, stretched or deleted.'
          : 'Controllers stay where they are.',
      ),
    );
  }),
  command('places', 'Markers, meter, key and tempo…', ({ dispatch }) => dispatch(layoutActions.toolShown('places'))),
  command(
    'pause',
    'Pause on the selected notes: twice as long, with a fermata',
    ({ dispatch, getState }) => {
      const state = getState();
      const notes = selectedOnView(state);
      const from = notes.reduce((least, { onset }) => Math.min(least, onset), Number.POSITIVE_INFINITY);
      const to = notes.reduce((most, { onset, duration }) => Math.max(most, onset + duration), 0);
      const edit = pauseOn(selectArrangement(state), { from, to, times: PAUSE });
      dispatch(commit(edit));
      void dispatch(correctPage({ wish: 'mark', mark: 'fermata', on: true }));
    },
    somethingSelected,
  ),
  command('recording', 'Recording beside the notes…', ({ dispatch }) => dispatch(layoutActions.toolShown('recording'))),
  command('beats', 'Take the tempo from the take…', ({ dispatch }) => dispatch(layoutActions.toolShown('beats'))),
  command('slowDown', 'Slow down and return…', ({ dispatch }) => dispatch(layoutActions.toolShown('slowDown'))),
];
