/** Commands that select, among the parts in reach. */

import {
  allSelected,
  type ChordPlace,
  chordTones,
  fromHereOn,
  NOTHING,
  overlapping,
  type Part,
  type Selection,
  sameBeats,
  samePitchClasses,
  samePitches,
  selectedIn,
  selectionOf,
  selectionSize,
  selectionWhere,
  turnedRound,
  unionOf,
} from '@crispfold/core';
import { counted } from '../../../ui/words.js';
import type { Desk } from '../../session/desk.js';
import { correctingActions } from '../../state/correctingSlice.js';
import { noteSpoken } from '../../state/noteSpoken.js';
import type { RootState } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { gridTicks, selectArrangement, selectEditable, selectFrontPart, selectReached } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { reveal } from '../looking.js';
import { type CommandContext, inGroup } from './command.js';
import { frontShown, somethingInReach, somethingSelected } from './conditions.js';
import { flip } from './playCommands.js';

/** Walks from note to note in the front part, selects it (or adds it), brings it to view and says it. */
const walk =
  (step: 1 | -1, adds = false) =>
  (context: CommandContext) => {
    const state = context.getState();
    const part = selectFrontPart(state);
    const {
      piece: { arrangement },
      selecting: { selection },
    } = state;
    if (!part || !arrangement || part.notes.length === 0) return;
    const chosen = selectedIn(selection, part.id);
    const isChosen = ({ id }: { readonly id: number }) => chosen.has(id);
    const at = adds && step > 0 ? part.notes.findLastIndex(isChosen) : part.notes.findIndex(isChosen);
    const from =
      at >= 0 ? at + step : part.notes.findIndex((note) => note.onset >= context.desk.player.state.get().tick);
    const note = part.notes[Math.max(0, Math.min(part.notes.length - 1, from))];
    if (!note) return;
    const own = selectionOf(part.id, [note.id]);
    context.dispatch(selectingActions.selected(adds ? unionOf(selection, own) : own));
    reveal(context, note.onset, note.pitch);
    context.dispatch(said(noteSpoken(state, part, note)));
    if (state.playback.hearEdits) void context.desk.player.sound(part, note.pitch, note.velocity);
  };

/** Selects notes of the parts in reach. */
const select =
  (choose: (state: RootState, selection: Selection, among: readonly Part[], desk: Desk) => Selection) =>
  ({ dispatch, getState, desk }: CommandContext) => {
    const state = getState();
    const selection = choose(state, selectEditable(state), selectReached(state), desk);
    dispatch(selectingActions.selected(selection));
    dispatch(said(`${counted(selectionSize(selection), 'note')} selected`));
  };

/** Picks among the selected notes alone, in whatever part they are. */
const among = (place: ChordPlace) =>
  select((state, selection) => chordTones(selectArrangement(state), selection, place));

const command = inGroup('Select');

export const SELECT_COMMANDS = [
  command('nextNote', 'Go to the next note', walk(1), frontShown),
  command('nextNoteToo', 'Add the next note', walk(1, true), frontShown),
  command('previousNoteToo', 'Add the note before', walk(-1, true), frontShown),
  command('previousNote', 'Go to the note before', walk(-1), frontShown),
  command(
    'selectAll',
    'Select every note in reach',
    select((_state, _selection, parts) => selectionWhere(parts, () => true)),
    somethingInReach,
  ),
  command(
    'samePitch',
    'Select all of the same pitch',
    select((state, selection, parts) => samePitches(selectArrangement(state), selection, parts)),
    somethingSelected,
  ),
  command(
    'samePitchClass',
    'Select the same pitch in all octaves',
    select((state, selection, parts) => samePitchClasses(selectArrangement(state), selection, parts)),
    somethingSelected,
  ),
  command(
    'sameBeat',
    'Select the same place in every bar',
    select((state, selection, parts) => sameBeats(selectArrangement(state), selection, parts, gridTicks(state))),
    somethingSelected,
  ),
  command(
    'fromHere',
    'Select from the playhead to the end',
    select((_state, _selection, parts, { player }) => fromHereOn(player.state.get().tick, parts)),
    somethingInReach,
  ),
  command(
    'fromSelected',
    'Select from the first selected note to the end',
    select((state, selection, parts) => {
      const starts = allSelected(selectArrangement(state), selection).map((note) => note.onset);
      return fromHereOn(
        starts.reduce((first, onset) => Math.min(first, onset), Number.POSITIVE_INFINITY),
        parts,
      );
    }),
    somethingSelected,
  ),
  command(
    'overlaps',
    'Select what overlaps its own pitch',
    select((_state, _selection, parts) => overlapping(parts)),
    somethingInReach,
  ),
  command('topTones', 'Keep the top notes of chords selected', among('top'), somethingSelected),
  command('innerTones', 'Keep the inner notes of chords selected', among('inner'), somethingSelected),
  command('bottomTones', 'Keep the bottom notes of chords selected', among('bottom'), somethingSelected),
  command(
    'invert',
    'Turn the selection round',
    select((_state, selection, parts) => turnedRound(selection, parts)),
    somethingInReach,
  ),
  command(
    'selectNone',
    'Select nothing',
    ({ dispatch, getState }) =>
      void dispatch(
        getState().correcting.giveOn ? correctingActions.givingSet(null) : selectingActions.selected(NOTHING),
      ),
    ({ selecting, correcting }) =>
      selectionSize(selecting.selection) === 0 && !correcting.giveOn ? 'Nothing is selected.' : null,
  ),
  command(
    'onlyThese',
    'Show only these, or all notes again',
    ({ dispatch, getState }) => {
      const state = getState();
      const ended = state.selecting.onlyShown !== null;
      dispatch(selectingActions.onlyTheseShown(ended ? null : selectEditable(state)));
      dispatch(said(ended ? 'All notes are shown.' : 'Only the selected notes are shown.'));
    },
    (state) => (state.selecting.onlyShown ? null : somethingSelected(state)),
  ),
  command('adding', 'Let every click add or take away, or not', flip('adding')),
  command('reach', 'Reach the front part, or all shown parts', ({ dispatch, getState }) => {
    dispatch(selectingActions.reachTurned());
    dispatch(
      said(getState().selecting.reach === 'all' ? 'All shown parts are in reach.' : 'The front part is in reach.'),
    );
  }),
];
