/** The menu on the roll: what is done most with what lies under the pointer, and groups of the rest in order of work. */
import { type StepId, selectionSize } from '@crispfold/core';
import { ContextMenu } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { useStore } from 'react-redux';
import { type RootState, useAppSelector } from '../../../app/store.js';
import { counted } from '../../../ui/words.js';
import { type Command, type CommandContext, carryOut } from '../commands/command.js';
import { type CommandId, LISTS, type ListId } from '../commands/keyTable.js';
import { inList, keyOf } from '../commands/ownKeys.js';
import { COMMANDS } from '../commands/registry.js';
import { selectEditable } from '../selectors.js';
import { useStepCounts } from './useStepCounts.js';

/** What stands on the menu itself: with the groups no more than ten entries. */
const OFTEN: readonly CommandId[] = ['pasteAtPointer', 'muteNotes', 'delete'];
/** Groups behind it. */
const GROUPS: readonly ListId[] = ['picking', 'times', 'lengths', 'loudness', 'pitch', 'copies', 'parts'];

const ITEM =
  'flex cursor-pointer items-baseline justify-between gap-6 px-3 py-1 outline-none data-[highlighted]:bg-selected data-[state=open]:bg-shade data-[disabled]:text-soft';
const BOX = 'z-40 min-w-56 overflow-y-auto border border-strong bg-sheet py-1 text-sm shadow-xl';

const commandOf = (id: CommandId): Command => COMMANDS.find((command) => command.id === id) as Command;

export const StepMenu = ({
  context,
  host,
  children,
}: {
  context: CommandContext;
  /** Where menus open: inside the Desk's main room, so that what they are about is never hidden from a reader. */
  host: HTMLElement | null;
  children: ReactNode;
}) => {
  const store = useStore<RootState>();
  const [open, setOpen] = useState(false);
  const selected = useAppSelector((state) => (open ? selectionSize(selectEditable(state)) : 0));
  const counts = useStepCounts(open ? 'all' : 'none');
  const item = (id: CommandId, letter?: string) => {
    const command = commandOf(id);
    const why = open ? command.when(store.getState()) : null;
    return (
      <ContextMenu.Item
        key={id}
        className={ITEM}
        disabled={why !== null}
        title={why ?? undefined}
        onSelect={() => carryOut(command, context)}
      >
        {command.name}
        <span className="tabular-nums text-soft">
          {command.step ? (counts.get(command.step as StepId) ?? '') : letter ? letter.toUpperCase() : keyOf(id)}
        </span>
      </ContextMenu.Item>
    );
  };
  return (
    <ContextMenu.Root onOpenChange={setOpen} modal={false}>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal container={host}>
        <ContextMenu.Content className={BOX}>
          <ContextMenu.Label className="px-3 py-1 font-serif text-base">
            {selected > 0 ? `${counted(selected, 'note')} selected` : 'Nothing selected'}
          </ContextMenu.Label>
          {OFTEN.map((id) => item(id))}
          <ContextMenu.Separator className="my-1 h-px bg-rule" />
          {GROUPS.map((list) => (
            <ContextMenu.Sub key={list}>
              <ContextMenu.SubTrigger className={ITEM}>
                {LISTS[list].name} <span className="text-soft">{LISTS[list].key.toUpperCase()} ›</span>
              </ContextMenu.SubTrigger>
              <ContextMenu.Portal container={host}>
                <ContextMenu.SubContent className={`${BOX} max-h-[80vh]`}>
                  {inList(list).map(([letter, id]) => item(id, letter))}
                </ContextMenu.SubContent>
              </ContextMenu.Portal>
            </ContextMenu.Sub>
          ))}
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
};
