/** Commands about whole parts. */
import type { PartId } from '@crispfold/core';
import type { AppDispatch, RootState } from '../../../app/store.js';
import { deskActions } from '../deskSlice.js';
import { spoken } from '../speak.js';
import { type CommandContext, inGroup } from './command.js';

const anyPart = ({ desk }: RootState): string | null =>
  desk.frontPartId === null ? 'There is no part yet. Add one from a .mid file.' : null;

const cyclePart =
  (step: 1 | -1) =>
  ({ dispatch, getState }: CommandContext) => {
    const { arrangement, frontPartId } = getState().desk;
    const parts = arrangement?.parts ?? [];
    const index = parts.findIndex((part) => part.id === frontPartId);
    const next = parts[(index + step + parts.length) % parts.length];
    if (!next) return;
    dispatch(deskActions.partBroughtForward(next.id));
    spoken.set(`${next.name} in front, ${next.notes.length} notes`);
  };

const onFrontPart =
  (action: (partId: PartId) => Parameters<AppDispatch>[0]) =>
  ({ dispatch, getState }: CommandContext) => {
    const { frontPartId } = getState().desk;
    if (frontPartId !== null) dispatch(action(frontPartId) as never);
  };

const command = inGroup('Parts');

export const PART_COMMANDS = [
  command('nextPart', 'Bring the next part to the front', cyclePart(1), anyPart),
  command('previousPart', 'Bring the part before to the front', cyclePart(-1), anyPart),
  command('hidePart', 'Hide or show the front part', onFrontPart(deskActions.partHiddenToggled), anyPart),
  command('alone', 'Show the front part alone, or all', onFrontPart(deskActions.partAloneToggled), anyPart),
  command('mute', 'Mute the front part, or not', onFrontPart(deskActions.partMuteToggled), anyPart),
  command('lock', 'Lock the front part, or unlock it', onFrontPart(deskActions.partLockToggled), anyPart),
  command('solo', 'Solo the front part, or not', onFrontPart(deskActions.partSoloToggled), anyPart),
];
