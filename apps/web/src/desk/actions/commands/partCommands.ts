/** Commands about whole parts. */

import {
  type Arrangement,
  deleteParts,
  duplicatePart,
  type Edit,
  instrumentById,
  isUnpitched,
  movePart,
  type PartId,
  sendToNextPart,
} from '@crispfold/core';
import { toast } from 'sonner';
import type { AppDispatch } from '../../session/desk.js';
import { commit, undo } from '../../session/saving.js';
import { layoutActions, type Tool } from '../../state/layoutSlice.js';
import { type PartsShownState, partsShownActions } from '../../state/partsShownSlice.js';
import type { RootState } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { selectArrangement, selectEditable, selectFrontPart, selectOpenParts } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { switched } from '../../state/switched.js';
import { showAlone } from '../showAlone.js';
import { type CommandContext, inGroup } from './command.js';
import { frontOpen, somethingSelected } from './conditions.js';

const anyPart = ({ partsShown }: RootState): string | null =>
  partsShown.frontPartId === null ? 'There is no part yet. Add one from a .mid file.' : null;

const percussionInFront = (state: RootState): string | null => {
  const front = selectFrontPart(state);
  if (!front || !isUnpitched(instrumentById(front.instrument))) return 'The front part is no percussion.';
  return frontOpen(state);
};

const cyclePart =
  (step: 1 | -1) =>
  ({ dispatch, getState }: CommandContext) => {
    const {
      piece: { arrangement },
      partsShown: { frontPartId },
    } = getState();
    const parts = arrangement?.parts ?? [];
    const index = parts.findIndex((part) => part.id === frontPartId);
    const next = parts[(index + step + parts.length) % parts.length];
    if (!next) return;
    dispatch(partsShownActions.partBroughtForward(next.id));
    dispatch(said(`${next.name} in front, ${next.notes.length} notes`));
  };

const onFrontPart =
  (
    action: (partId: PartId) => Parameters<AppDispatch>[0],
    /** What is so after it, and what is not. */
    [yes, no]: readonly [yes: string, no: string],
    isSo: (shown: PartsShownState, partId: PartId) => boolean,
  ) =>
  ({ dispatch, getState }: CommandContext) => {
    const front = selectFrontPart(getState());
    if (!front) return;
    dispatch(action(front.id));
    dispatch(said(`${front.name} ${isSo(getState().partsShown, front.id) ? yes : no}`));
  };

/** Changes the front part, or the order it stands in. */
const changeFront =
  (make: (arrangement: Arrangement, partId: PartId) => Edit | null) =>
  ({ dispatch, getState }: CommandContext) => {
    const {
      piece: { arrangement },
      partsShown: { frontPartId },
    } = getState();
    const edit = arrangement && frontPartId !== null ? make(arrangement, frontPartId) : null;
    if (!edit) return;
    dispatch(commit(edit));
    dispatch(said(edit.label));
  };

const moveFront = (step: 1 | -1) =>
  changeFront((arrangement, partId) => {
    const at = arrangement.parts.findIndex((part) => part.id === partId);
    return movePart(arrangement, partId, at + step);
  });

const removeFront = (context: CommandContext) => {
  const front = selectFrontPart(context.getState());
  changeFront((arrangement, partId) => deleteParts(arrangement, new Set([partId])))(context);
  if (front) {
    toast.success(`${front.name} deleted`, { action: { label: 'Undo', onClick: () => context.dispatch(undo()) } });
  }
};

/** Sends the selection to the part above or below that of each note. */
const sendOn =
  (step: 1 | -1) =>
  ({ dispatch, getState }: CommandContext) => {
    const state = getState();
    const among = selectOpenParts(state).map((part) => part.id);
    const made = sendToNextPart(selectArrangement(state), selectEditable(state), among, step);
    if (!made) {
      dispatch(said(`There is no part ${step < 0 ? 'above' : 'below'} that takes them.`));
      return;
    }
    dispatch(commit(made.edit));
    dispatch(selectingActions.selected(made.selection));
    dispatch(said(made.edit.label));
  };

const show =
  (tool: Tool) =>
  ({ dispatch }: CommandContext) =>
    void dispatch(layoutActions.toolShown(tool));

const command = inGroup('Parts');
const sharing = inGroup('Share out');

/** What is done to the front part as a whole; its settings offer them too. */
export const COMMANDS_OF_PART = [
  command('partUp', 'Move the part up', moveFront(-1), frontOpen),
  command('partDown', 'Move the part down', moveFront(1), frontOpen),
  command('duplicatePart', 'Duplicate the part', changeFront(duplicatePart), anyPart),
  command('splitPart', 'Split the part', show('splitPart'), frontOpen),
  command('combineParts', 'Combine parts', show('combineParts'), frontOpen),
  command('deletePart', 'Delete the part', removeFront, frontOpen),
];

export const PART_COMMANDS = [
  command('nextPart', 'Bring the next part to the front', cyclePart(1), anyPart),
  command('previousPart', 'Bring the part before to the front', cyclePart(-1), anyPart),
  command(
    'hidePart',
    'Hide or show the front part',
    onFrontPart(partsShownActions.partHiddenToggled, ['hidden', 'shown'], ({ hidden }, id) => hidden.includes(id)),
    anyPart,
  ),
  command(
    'alone',
    'Show the front part alone, or all',
    onFrontPart(showAlone, ['alone on view', 'and all others on view'], ({ hidden }) => hidden.length > 0),
    anyPart,
  ),
  command(
    'mute',
    'Mute the front part, or not',
    onFrontPart(partsShownActions.partMuteToggled, ['muted', 'heard'], ({ muted }, id) => muted.includes(id)),
    anyPart,
  ),
  command(
    'lock',
    'Lock the front part, or unlock it',
    onFrontPart(partsShownActions.partLockToggled, ['locked', 'unlocked'], ({ locked }, id) => locked.includes(id)),
    anyPart,
  ),
  command(
    'solo',
    'Solo the front part, or not',
    onFrontPart(partsShownActions.partSoloToggled, ['solo', 'no longer solo'], ({ soloed }, id) => soloed.includes(id)),
    anyPart,
  ),
  command(
    'findPart',
    'Find a part by its name',
    ({ dispatch, getState }) => {
      if (getState().layout.partsFolded) dispatch(switched('partsFolded'));
      dispatch(layoutActions.partSought(false));
      dispatch(layoutActions.partSought(true));
    },
    anyPart,
  ),
  command('partSettings', 'Name, instrument and start of the part', show('part'), frontOpen),
  ...COMMANDS_OF_PART,
  command('percussionMap', 'Percussion map: how its sounds are written', show('percussionMap'), percussionInFront),
  command('emptyPart', 'Add an empty part', show('emptyPart')),
  sharing('sendUp', 'Send the selection one part up', sendOn(-1), somethingSelected),
  sharing('sendDown', 'Send the selection one part down', sendOn(1), somethingSelected),
  sharing('sendTo', 'Send the selection to a part', show('sendTo'), somethingSelected),
  sharing('dealOut', 'Deal out chords', show('dealOut'), somethingSelected),
];
