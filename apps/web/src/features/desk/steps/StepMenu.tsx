/** The menu on the roll: every step, with how many of the selected notes it would touch. */
import { STEP_IDS, type StepId, stepById } from '@crispfold/core';
import { ContextMenu } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { useStore } from 'react-redux';
import type { RootState } from '../../../app/store.js';
import { deskWorker } from '../../../engine/engine.js';
import { counted } from '../../../ui/words.js';
import { COMMANDS, type CommandContext, keyOf } from '../commands/commands.js';
import { deskActions } from '../deskSlice.js';

/** Commands that stand above the steps. */
const OFTEN = ['selectAll', 'samePitch', 'invert', 'delete'] as const;

const ITEM =
  'flex cursor-pointer items-baseline justify-between gap-6 px-3 py-1 outline-none data-[highlighted]:bg-selected data-[disabled]:text-soft';

export const StepMenu = ({ context, children }: { context: CommandContext; children: ReactNode }) => {
  const store = useStore<RootState>();
  const [counts, setCounts] = useState<ReadonlyMap<StepId, number>>(new Map());
  const [selected, setSelected] = useState(0);

  const opened = async (open: boolean) => {
    if (!open) return;
    const { selection, frontPartId } = store.getState().desk;
    setSelected(selection.length);
    setCounts(new Map());
    if (selection.length > 0 && frontPartId !== null) {
      setCounts(new Map(await deskWorker().stepCounts(frontPartId, selection)));
    }
  };

  return (
    <ContextMenu.Root onOpenChange={(open) => void opened(open)}>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="z-40 max-h-[80vh] min-w-64 overflow-y-auto border border-strong bg-sheet py-1 text-sm shadow-xl">
          <ContextMenu.Label className="px-3 py-1 font-serif text-base">
            {selected > 0 ? `${counted(selected, 'note')} selected` : 'Nothing selected'}
          </ContextMenu.Label>
          {OFTEN.map((id) => {
            const command = COMMANDS.find((candidate) => candidate.id === id);
            return command ? (
              <ContextMenu.Item key={id} className={ITEM} onSelect={() => command.run(context)}>
                {command.name} <span className="text-soft">{keyOf(id)}</span>
              </ContextMenu.Item>
            ) : null;
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
