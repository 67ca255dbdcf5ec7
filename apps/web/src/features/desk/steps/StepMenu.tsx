/** The menu on the roll: what applies to the selection, and every step, with how many of the selected notes it would touch. */
import { STEP_IDS, selectionSize, stepById } from '@crispfold/core';
import { ContextMenu } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { useStore } from 'react-redux';
import { type RootState, useAppSelector } from '../../../app/store.js';
import { counted } from '../../../ui/words.js';
import { type CommandContext, carryOut } from '../commands/command.js';
import { keyOf } from '../commands/keyTable.js';
import { COMMANDS } from '../commands/registry.js';
import { deskActions } from '../deskSlice.js';
import { selectEditable } from '../selectors.js';
import { useStepCounts } from './useStepCounts.js';

/** Commands that stand above the steps. */
const OFTEN: readonly string[] = ['selectAll', 'samePitch', 'invert', 'loopSelection', 'delete'];

const ITEM =
  'flex cursor-pointer items-baseline justify-between gap-6 px-3 py-1 outline-none data-[highlighted]:bg-selected data-[disabled]:text-soft';

export const StepMenu = ({ context, children }: { context: CommandContext; children: ReactNode }) => {
  const store = useStore<RootState>();
  const [open, setOpen] = useState(false);
  const selected = useAppSelector((state) => (open ? selectionSize(selectEditable(state)) : 0));
  const counts = useStepCounts(open);
  return (
    <ContextMenu.Root onOpenChange={setOpen}>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="z-40 max-h-[80vh] min-w-64 overflow-y-auto border border-strong bg-sheet py-1 text-sm shadow-xl">
          <ContextMenu.Label className="px-3 py-1 font-serif text-base">
            {selected > 0 ? `${counted(selected, 'note')} selected` : 'Nothing selected'}
          </ContextMenu.Label>
          {COMMANDS.filter(({ id }) => OFTEN.includes(id)).map((command) => {
            const why = open ? command.when(store.getState()) : null;
            return (
              <ContextMenu.Item
                key={command.id}
                className={ITEM}
                disabled={why !== null}
                title={why ?? undefined}
                onSelect={() => carryOut(command, context)}
              >
                {command.name} <span className="text-soft">{keyOf(command.id)}</span>
              </ContextMenu.Item>
            );
          })}
          <ContextMenu.Separator className="my-1 h-px bg-rule" />
          {STEP_IDS.map((id) => (
            <ContextMenu.Item
              key={id}
              className={ITEM}
              disabled={selected === 0}
              onSelect={() => store.dispatch(deskActions.stepDialogShown(id))}
            >
              {stepById(id).name}…{' '}
              <span className="tabular-nums text-soft">{selected > 0 ? (counts.get(id) ?? '…') : ''}</span>
            </ContextMenu.Item>
          ))}
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
};
