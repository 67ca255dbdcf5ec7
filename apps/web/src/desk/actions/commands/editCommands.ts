/** Commands that change notes, or how changes are made. They act on what is selected in all parts that can be edited. */

import {
  beatsOfMeter,
  changeVelocities,
  deleteNotes,
  type Edit,
  invertChords,
  moveNotes,
  muteNotes,
  type Pasted,
  pickupEdit,
  type Result,
  repeatNotes,
  type Selection,
  splitNotesAt,
  splitNotesOnGrid,
  stepEdit,
  trimNotes,
} from '@crispfold/core';
import { toast } from 'sonner';
import type { Desk } from '../../session/desk.js';
import { commit, redo, undo } from '../../session/saving.js';
import type { SnapTo } from '../../state/editingSlice.js';
import { editingActions, type Grid, type GridKind, type MoveStep } from '../../state/editingSlice.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { selectMeterMap, selectTempoMap } from '../../state/maps.js';
import { noteSpoken } from '../../state/noteSpoken.js';
import type { RootState } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import {
  gridTicks,
  selectArrangement,
  selectEditable,
  selectedOnView,
  selectFirstSelected,
} from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { copySelection, cutSelection, pasteAt } from '../clipboard.js';
import { commitNotes } from '../commitNotes.js';
import { turnEntry } from '../entering.js';
import { type Command, type CommandContext, inGroup } from './command.js';
import { canRedo, canUndo, frontOpen, somethingSelected } from './conditions.js';
import { flip } from './playCommands.js';

/** How far one stroke moves, in ticks; a tick where it is the grid and snapping is off. */
const strokeTicks = (state: RootState): number => {
  const {
    editing: { moveStep, snapOn },
  } = state;
  const { ppq } = selectArrangement(state);
  switch (moveStep) {
    case 'grid':
      return snapOn ? gridTicks(state) : 1;
    case 'tick':
      return 1;
    case '10 ms':
      return Math.max(1, Math.round(10 * selectTempoMap(state).ticksPerMillisecond(firstStart(state))));
    case 'beat':
      return beatsOfMeter(selectMeterMap(state).barAt(firstStart(state)).meter, ppq)[0]?.length ?? ppq;
    case 'bar': {
      const { start, end } = selectMeterMap(state).barAt(firstStart(state));
      return end - start;
    }
    default:
      return moveStep satisfies never;
  }
};

/** Says the first selected note as it stands, and sounds it where its pitch is what changed. */
const sayFirst = ({ dispatch, getState, desk }: CommandContext, sound: boolean): void => {
  const state = getState();
  const first = selectFirstSelected(state);
  if (!first) return;
  const { part, note } = first;
  dispatch(said(noteSpoken(state, part, note)));
  if (sound && state.playback.hearEdits) void desk.player.sound(part, note.pitch, note.velocity);
};

const change =
  (make: (state: RootState, selection: Selection, desk: Desk) => Edit | null, sound = false) =>
  (context: CommandContext): void => {
    const state = context.getState();
    context.dispatch(commitNotes(make(state, selectEditable(state), context.desk)));
    sayFirst(context, sound);
  };

const nudge = (steps: number, bySemitones: number) =>
  change(
    (state, selection) =>
      moveNotes(selectArrangement(state), selection, { byTicks: steps * strokeTicks(state), bySemitones }),
    bySemitones !== 0,
  );

const trim = (edge: 'start' | 'end', direction: 1 | -1) =>
  change((state, selection) => trimNotes(selectArrangement(state), selection, edge, direction * strokeTicks(state)));

const remove = ({ dispatch, getState }: CommandContext): void => {
  const state = getState();
  const edit = deleteNotes(selectArrangement(state), selectEditable(state));
  dispatch(commitNotes(edit));
  if (edit) dispatch(said(edit.label));
};

const stepSnap =
  (by: 1 | -1) =>
  ({ dispatch }: CommandContext): void => {
    dispatch(editingActions.snapStepped(by));
  };

/** A change that has its own words where it cannot be. */
const changeOrSay =
  (make: (state: RootState, selection: Selection) => Result<Pasted>) =>
  ({ dispatch, getState }: CommandContext): void => {
    const state = getState();
    const made = make(state, selectEditable(state));
    if (!made.ok) {
      toast.error(made.problem.message);
      dispatch(said(made.problem.message));
      return;
    }
    dispatch(commitNotes(made.value.edit, selectEditable(state)));
    dispatch(selectingActions.selected(made.value.selection));
    dispatch(said(made.value.edit.label));
  };

/** The first start among the selected notes; 0 for none. */
const firstStart = (state: RootState): number => {
  const first = selectedOnView(state).reduce((least, note) => Math.min(least, note.onset), Number.POSITIVE_INFINITY);
  return Number.isFinite(first) ? first : 0;
};

const toPlayhead = change((state, selection, { player }) =>
  moveNotes(selectArrangement(state), selection, {
    byTicks: player.state.get().tick - firstStart(state),
    bySemitones: 0,
  }),
);

const splitAtPlayhead = change((state, selection, { player }) =>
  splitNotesAt(selectArrangement(state), selection, player.state.get().tick),
);

const splitAtPointer = change((state, selection, { player, pointerTick }) =>
  splitNotesAt(selectArrangement(state), selection, pointerTick.get() ?? player.state.get().tick),
);

const splitOnGrid = change((state, selection) => {
  const meterMap = selectMeterMap(state);
  return splitNotesOnGrid(selectArrangement(state), selection, gridTicks(state), (tick) => meterMap.barAt(tick));
});

const louder = (by: number) =>
  change((state, selection) => changeVelocities(selectArrangement(state), selection, { by }), true);

const stretched = (ratio: number) =>
  change((state, selection) => stepEdit(selectArrangement(state), selection, 'stretch', { ratio }).edit);

/** One stroke of loudness. */
const LOUDER = 6;

const turnPickup = ({ dispatch, getState }: CommandContext): void => {
  const change = pickupEdit(selectArrangement(getState()));
  dispatch(commit(change));
  if (change) dispatch(said(change.label));
};

const pickupPossible: Command['when'] = (state) =>
  pickupEdit(selectArrangement(state))
    ? null
    : 'The piece begins with its first bar: there is no pickup to be made of it.';

const edit = inGroup('Edit');
const times = inGroup('Times');
const lengths = inGroup('Lengths');
const loudness = inGroup('Loudness');
const pitch = inGroup('Pitch');
const copies = inGroup('Copies');
const grid = inGroup('Grid and moves');

const setGrid =
  (to: Partial<Grid>) =>
  ({ dispatch }: CommandContext) =>
    void dispatch(editingActions.gridSet(to));
const turnKind =
  (kind: GridKind) =>
  ({ dispatch, getState }: CommandContext) =>
    void dispatch(editingActions.gridSet({ kind: getState().editing.grid.kind === kind ? 'plain' : kind }));
const snapTo =
  (to: SnapTo) =>
  ({ dispatch }: CommandContext) =>
    void dispatch(editingActions.snapToChosen(to));
const moveBy =
  (step: MoveStep) =>
  ({ dispatch }: CommandContext) => {
    dispatch(editingActions.moveStepChosen(step));
    dispatch(said(`Arrow keys move notes by ${step === 'grid' ? 'the grid' : `a ${step}`.replace('a 10', '10')}.`));
  };

export const EDIT_COMMANDS = [
  edit('delete', 'Delete the selection', remove, somethingSelected),
  edit(
    'muteNotes',
    'Mute the selected notes, or let them sound',
    change((state, selection) => muteNotes(selectArrangement(state), selection)),
    somethingSelected,
  ),
  edit('later', 'Move later', nudge(1, 0), somethingSelected),
  edit('earlier', 'Move earlier', nudge(-1, 0), somethingSelected),
  edit('up', 'Move up a semitone', nudge(0, 1), somethingSelected),
  edit('down', 'Move down a semitone', nudge(0, -1), somethingSelected),
  edit('draw', 'Draw notes, or select', flip('drawing'), frontOpen),
  edit('noteByNote', 'Enter notes one after another, or no longer', ({ dispatch }) => dispatch(turnEntry), frontOpen),
  edit('undo', 'Undo', ({ dispatch }) => void dispatch(undo()), canUndo),
  edit('redo', 'Redo', ({ dispatch }) => void dispatch(redo()), canRedo),

  times('lineUp', 'Line up', ({ dispatch }) => void dispatch(layoutActions.toolShown('lineUp')), somethingSelected),
  times('toPlayhead', 'Move the selection to the playhead', toPlayhead, somethingSelected),
  times('double', 'Stretch to double', stretched(200), somethingSelected),
  times('half', 'Stretch to half', stretched(50), somethingSelected),

  lengths('longer', 'End later', trim('end', 1), somethingSelected),
  lengths('shorter', 'End earlier', trim('end', -1), somethingSelected),
  lengths('startLater', 'Start later, end kept', trim('start', 1), somethingSelected),
  lengths('startEarlier', 'Start earlier, end kept', trim('start', -1), somethingSelected),
  lengths('splitGrid', 'Split on the grid', splitOnGrid, somethingSelected),
  lengths('splitPointer', 'Split at the pointer', splitAtPointer, somethingSelected),
  lengths('splitPlayhead', 'Split at the playhead', splitAtPlayhead, somethingSelected),

  loudness('louder', 'Louder', louder(LOUDER), somethingSelected),
  loudness('softer', 'Softer', louder(-LOUDER), somethingSelected),

  pitch('octaveUp', 'Move up an octave', nudge(0, 12), somethingSelected),
  pitch('octaveDown', 'Move down an octave', nudge(0, -12), somethingSelected),
  pitch(
    'chordsUp',
    'Turn chords upward',
    change((state, selection) => invertChords(selectArrangement(state), selection, 'up')),
    somethingSelected,
  ),
  pitch(
    'chordsDown',
    'Turn chords downward',
    change((state, selection) => invertChords(selectArrangement(state), selection, 'down')),
    somethingSelected,
  ),

  pitch(
    'randomPitches',
    'Random pitches',
    ({ dispatch }) => void dispatch(layoutActions.toolShown('randomPitches')),
    somethingSelected,
  ),

  copies('copy', 'Copy', copySelection, somethingSelected),
  copies('cut', 'Cut', cutSelection, somethingSelected),
  copies(
    'paste',
    'Paste at the playhead',
    pasteAt((_state, { player }) => player.state.get().tick),
  ),
  copies(
    'pasteAtPointer',
    'Paste at the pointer',
    pasteAt((_state, { player, pointerTick }) => pointerTick.get() ?? player.state.get().tick),
  ),
  copies('pasteSameBars', 'Paste into the same bars of the front part', pasteAt(null)),
  copies(
    'repeatBeat',
    'Repeat after itself, on the beat',
    changeOrSay((state, selection) => repeatNotes(selectArrangement(state), selection, 'beat')),
    somethingSelected,
  ),
  copies(
    'repeatBar',
    'Repeat after itself, on the bar',
    changeOrSay((state, selection) => repeatNotes(selectArrangement(state), selection, 'bar')),
    somethingSelected,
  ),
  copies(
    'repeatTimes',
    'Repeat several times',
    ({ dispatch }) => void dispatch(layoutActions.toolShown('repeat')),
    somethingSelected,
  ),

  grid('snap', 'Switch snapping on or off', flip('snapOn')),
  grid('whole', 'Grid: whole', setGrid({ value: 1 })),
  grid('halfNote', 'Grid: half', setGrid({ value: 1 / 2 })),
  grid('quarter', 'Grid: quarter', setGrid({ value: 1 / 4 })),
  grid('eighth', 'Grid: eighth', setGrid({ value: 1 / 8 })),
  grid('sixteenth', 'Grid: sixteenth', setGrid({ value: 1 / 16 })),
  grid('thirtySecond', 'Grid: thirty-second', setGrid({ value: 1 / 32 })),
  grid('sixtyFourth', 'Grid: sixty-fourth', setGrid({ value: 1 / 64 })),
  grid('triplet', 'Grid: triplet, or not', turnKind('triplet')),
  grid('dotted', 'Grid: dotted, or not', turnKind('dotted')),
  grid('finer', 'A finer grid', stepSnap(1)),
  grid('coarser', 'A coarser grid', stepSnap(-1)),
  grid('snapGrid', 'Snap to the grid', snapTo('grid')),
  grid('snapNotes', 'Snap to edges of other notes', snapTo('notes')),
  grid('snapBoth', 'Snap to whichever is nearer', snapTo('both')),
  grid('moveByGrid', 'Arrows move by the grid', moveBy('grid')),
  grid('moveByTick', 'Arrows move by a tick', moveBy('tick')),
  grid('moveByMilliseconds', 'Arrows move by 10 ms', moveBy('10 ms')),
  grid('moveByBeat', 'Arrows move by a beat', moveBy('beat')),
  grid('moveByBar', 'Arrows move by a bar', moveBy('bar')),
  grid('pickup', 'Count the first bar as a pickup, or as bar 1', turnPickup, pickupPossible),
];
