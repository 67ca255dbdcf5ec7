/** The menu on the roll: what is done most with what lies under the pointer, and groups of the rest in order of work. */

import { type StepId, selectionSize } from '@crispfold/core';
import { ContextMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { counted } from '../../ui/words.js';
import { type CommandContext, carryOut, commandById } from '../actions/commands/command.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useStepCounts } from '../controls/useStepCounts.js';
import { type CommandId, LISTS, type ListId } from '../state/keyTable.js';
import { inList } from '../state/ownKeys.js';
import { useAppSelector } from '../state/root.js';
import { selectEditable } from '../state/selectors.js';

/** What stands on the menu itself: with the groups no more than ten entries. */
const OFTEN: readonly CommandId[] = ['pasteAtPointer', 'muteNotes', 'delete'];
/** Groups behind it. */
const GROUPS: readonly ListId[] = ['picking', 'times', 'lengths', 'loudness', 'pitch', 'copies', 'parts'];

const ITEM =
  'flex cursor-pointer items-baseline justify-between gap-6 px-3 py-1 outline-none data-[highlighted]:bg-selected data-[state=open]:bg-shade data-[disabled]:text-soft';
const BOX = 'z-40 min-w-56 overflow-y-auto border border-strong bg-sheet py-1 text-sm shadow-xl';

export const StepMenu = ({
  context,
  host,
  children,
}: {
  context: CommandContext;
  /** Where menus open: inside the Desk's main room, so that what they are about is never hidden from a reader. */
  host: HTMLElement | null;
  children: ReactNode;
}) => (
  <ContextMenu.Root modal={false}>
    <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
    <ContextMenu.Portal container={host}>
      <ContextMenu.Content className={BOX}>
        <Entries context={context} host={host} />
      </ContextMenu.Content>
    </ContextMenu.Portal>
  </ContextMenu.Root>
);

/** What stands on the menu: made when it opens, not with each change of the roll behind it. */
const Entries = ({ context, host }: { context: CommandContext; host: HTMLElement | null }) => {
  const keyOf = useKeyOf();
  const own = useAppSelector(({ keys }) => keys.own);
  const selected = useAppSelector((state) => selectionSize(selectEditable(state)));
  const counts = useStepCounts('all');
  const item = (id: CommandId, letter?: string) => {
    const command = commandById(context, id);
    if (!command) return null;
    const why = command.when(context.getState(), context.desk);
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
    <>
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
              {inList(own, list).map(([letter, id]) => item(id, letter))}
            </ContextMenu.SubContent>
          </ContextMenu.Portal>
        </ContextMenu.Sub>
      ))}
    </>
  );
};
