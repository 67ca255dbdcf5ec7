/** Commands that select. They look at the front part alone. */
import {
  NOTHING,
  type Part,
  type Selection,
  samePitches,
  selectedIn,
  selectionOf,
  selectionSize,
  selectionWhere,
  turnedRound,
} from '@crispfold/core';
import type { RootState } from '../../../app/store.js';
import { counted } from '../../../ui/words.js';
import { deskActions } from '../deskSlice.js';
import { selectMeterMap } from '../maps.js';
import { selectFrontPart } from '../selectors.js';
import { noteInWords, spoken } from '../speak.js';
import { player } from '../transport/player.js';
import { type CommandContext, inGroup } from './command.js';
import { frontShown, somethingSelected } from './conditions.js';
import { reveal } from './looking.js';

/** Walks from note to note in the front part, selects it, brings it to view and says it. */
const walk = (step: 1 | -1) => (context: CommandContext) => {
  const state = context.getState();
  const part = selectFrontPart(state);
  const { arrangement, selection } = state.desk;
  if (!part || !arrangement || part.notes.length === 0) return;
  const chosen = selectedIn(selection, part.id);
  const at = part.notes.findIndex((note) => chosen.has(note.id));
  const from = at >= 0 ? at + step : part.notes.findIndex((note) => note.onset >= player.state.get().tick);
  const note = part.notes[Math.max(0, Math.min(part.notes.length - 1, from))];
  if (!note) return;
  context.dispatch(deskActions.selected(selectionOf(part.id, [note.id])));
  reveal(context, note.onset, note.pitch);
  spoken.set(noteInWords(part, note, arrangement, selectMeterMap(state)));
  if (state.desk.hearEdits) void player.sound(part, note.pitch, note.velocity);
};

/** Selects notes of the front part. */
const select =
  (choose: (selection: Selection, part: Part) => Selection) =>
  ({ dispatch, getState }: CommandContext) => {
    const state = getState();
    const part = selectFrontPart(state);
    if (!part) return;
    const selection = choose(state.desk.selection, part);
    dispatch(deskActions.selected(selection));
    spoken.set(`${counted(selectionSize(selection), 'note')} selected`);
  };

const nothingOfFront = (state: RootState): boolean =>
  selectedIn(state.desk.selection, state.desk.frontPartId ?? 0).size === 0;

const command = inGroup('Select');

export const SELECT_COMMANDS = [
  command('nextNote', 'Go to the next note', walk(1), frontShown),
  command('previousNote', 'Go to the note before', walk(-1), frontShown),
  command(
    'selectAll',
    'Select every note in the part',
    select((_selection, part) => selectionWhere(part, () => true)),
    frontShown,
  ),
  command('samePitch', 'Select all of the same pitch', select(samePitches), (state) =>
    nothingOfFront(state) ? (somethingSelected(state) ?? frontShown(state)) : frontShown(state),
  ),
  command('invert', 'Turn the selection round', select(turnedRound), frontShown),
  command(
    'selectNone',
    'Select nothing',
    ({ dispatch }) => void dispatch(deskActions.selected(NOTHING)),
    ({ desk }) => (selectionSize(desk.selection) === 0 ? 'Nothing is selected.' : null),
  ),
];
