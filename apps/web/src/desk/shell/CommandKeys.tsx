/** Binds every command to its single keys, and the key of each list to the list. Nothing to see. */

import { memo } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { type Command, type CommandContext, carryOut } from '../actions/commands/command.js';
import { useAppDispatch } from '../session/desk.js';
import { keysActions } from '../state/keysSlice.js';
import { LISTS, type ListId } from '../state/keyTable.js';
import { singleKeys } from '../state/ownKeys.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { useAppSelector } from '../state/root.js';

/** Ctrl+C and its like belong to text where text is selected. */
const isForText = (event: KeyboardEvent): boolean =>
  (event.ctrlKey || event.metaKey) && 'cx'.includes(event.key) && (getSelection()?.toString() ?? '') !== '';

const CommandKey = ({
  command,
  keys,
  context,
}: {
  command: Command;
  keys: readonly string[];
  context: CommandContext;
}) => {
  useHotkeys(
    [...keys],
    (event) => {
      // A focused button keeps its own Space and Enter; a focused list its arrows.
      const control = (event.target as Element).closest('button, a, summary, [role="menuitem"], [role="tab"]');
      if (control && (event.key === ' ' || event.key.startsWith('Arrow'))) return;
      // What has been answered already, as the Esc that closed a menu, or belongs to text.
      if (event.defaultPrevented || isForText(event)) return;
      event.preventDefault();
      carryOut(command, context);
    },
    { enableOnFormTags: false },
    [command, context],
  );
  return null;
};

const ListKeys = () => {
  const dispatch = useAppDispatch();
  useHotkeys(
    Object.values(LISTS).map(({ key }) => key),
    (event) => {
      const list = (Object.keys(LISTS) as ListId[]).find((id) => LISTS[id].key === event.key.toLowerCase());
      if (!list) return;
      event.preventDefault();
      dispatch(keysActions.listOpened(list));
    },
    { enableOnFormTags: false },
  );
  return null;
};

/** Alt and a digit bring that part to the front, so it needs no command of its own for each. */
const PartDigits = ({ context: { dispatch, getState } }: { context: CommandContext }) => {
  useHotkeys(
    ['alt+1', 'alt+2', 'alt+3', 'alt+4', 'alt+5', 'alt+6', 'alt+7', 'alt+8', 'alt+9'],
    (event) => {
      event.preventDefault();
      const part = getState().piece.arrangement?.parts[Number(event.code.replace(/\D/g, '')) - 1];
      if (part) dispatch(partsShownActions.partBroughtForward(part.id));
    },
    [dispatch, getState],
  );
  return null;
};

export const CommandKeys = memo(({ context }: { context: CommandContext }) => {
  // Bound anew where a person gave a command another key.
  const own = useAppSelector(({ keys }) => keys.own);
  return (
    <>
      {context.commands
        .filter(({ id }) => singleKeys(own, id).length > 0)
        .map((command) => (
          <CommandKey
            key={`${command.id} ${singleKeys(own, command.id)}`}
            command={command}
            keys={singleKeys(own, command.id)}
            context={context}
          />
        ))}
      <ListKeys />
      <PartDigits context={context} />
    </>
  );
});
