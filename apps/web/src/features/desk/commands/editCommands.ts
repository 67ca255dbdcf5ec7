/** Commands that change notes, or how changes are made. They act on what is selected in all shown parts. */
import { deleteNotes, type Edit, moveNotes, type Selection, trimNotes } from '@crispfold/core';
import type { RootState } from '../../../app/store.js';
import { deskActions } from '../deskSlice.js';
import { selectMeterMap } from '../maps.js';
import { commit, redo, undo } from '../saving.js';
import { gridTicks, selectArrangement, selectEditable, selectFirstSelected } from '../selectors.js';
import { noteInWords, spoken } from '../speak.js';
import { player } from '../transport/player.js';
import { type CommandContext, inGroup } from './command.js';
import { canRedo, canUndo, frontOpen, somethingSelected } from './conditions.js';
import { flip } from './playCommands.js';

/** One step of the grid; a tick where snapping is off. */
const gridStep = (state: RootState): number => (state.desk.snapOn ? gridTicks(state) : 1);

/** Says the first selected note as it stands, and sounds it where its pitch is what changed. */
const sayFirst = (state: RootState, sound: boolean): void => {
  const first = selectFirstSelected(state);
  if (!first) return;
  const { part, note } = first;
  spoken.set(noteInWords(part, note, selectArrangement(state), selectMeterMap(state)));
  if (sound && state.desk.hearEdits) void player.sound(part, note.pitch, note.velocity);
};

const change =
  (make: (state: RootState, selection: Selection) => Edit | null, sound = false) =>
  ({ dispatch, getState }: CommandContext): void => {
    const state = getState();
    dispatch(commit(make(state, selectEditable(state))));
    sayFirst(getState(), sound);
  };

const nudge = (steps: number, bySemitones: number) =>
  change(
    (state, selection) =>
      moveNotes(selectArrangement(state), selection, { byTicks: steps * gridStep(state), bySemitones }),
    bySemitones !== 0,
  );

const trim = (edge: 'start' | 'end', direction: 1 | -1) =>
  change((state, selection) => trimNotes(selectArrangement(state), selection, edge, direction * gridStep(state)));

const remove = ({ dispatch, getState }: CommandContext): void => {
  const state = getState();
  const edit = deleteNotes(selectArrangement(state), selectEditable(state));
  dispatch(commit(edit));
  if (edit) spoken.set(edit.label);
};

const stepSnap =
  (by: 1 | -1) =>
  ({ dispatch }: CommandContext): void => {
    dispatch(deskActions.snapStepped(by));
  };

const command = inGroup('Edit');

export const EDIT_COMMANDS = [
  command('delete', 'Delete the selection', remove, somethingSelected),
  command('up', 'Move up a semitone', nudge(0, 1), somethingSelected),
  command('down', 'Move down a semitone', nudge(0, -1), somethingSelected),
  command('octaveUp', 'Move up an octave', nudge(0, 12), somethingSelected),
  command('octaveDown', 'Move down an octave', nudge(0, -12), somethingSelected),
  command('later', 'Move later by the grid', nudge(1, 0), somethingSelected),
  command('earlier', 'Move earlier by the grid', nudge(-1, 0), somethingSelected),
  command('longer', 'End later by the grid', trim('end', 1), somethingSelected),
  command('shorter', 'End earlier by the grid', trim('end', -1), somethingSelected),
  command('startLater', 'Start later, end kept', trim('start', 1), somethingSelected),
  command('startEarlier', 'Start earlier, end kept', trim('start', -1), somethingSelected),
  command('draw', 'Draw notes, or select', flip('drawing'), frontOpen),
  command('snap', 'Switch snapping on or off', flip('snapOn')),
  command('finer', 'Snap to a finer grid', stepSnap(1)),
  command('coarser', 'Snap to a coarser grid', stepSnap(-1)),
  command('undo', 'Undo', ({ dispatch }) => void dispatch(undo()), canUndo),
  command('redo', 'Redo', ({ dispatch }) => void dispatch(redo()), canRedo),
];
