/** The list of all commands: type a few letters, press Enter. */

import { STEP_IDS, type StepId, stepById } from '@crispfold/core';
import { Command as List } from 'cmdk';
import { Dialog as Radix } from 'radix-ui';
import { useEffect, useState } from 'react';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { deskWorker } from '../../../engine/engine.js';
import { counted } from '../../../ui/words.js';
import { deskActions } from '../deskSlice.js';
import { selectDesk } from '../selectors.js';
import { COMMANDS, type CommandContext, keyName } from './commands.js';

const GROUPS = [...new Set(COMMANDS.map((command) => command.group))];

export const CommandList = ({
  open,
  onOpenChange,
  context,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  context: CommandContext;
}) => (
  <Radix.Root open={open} onOpenChange={onOpenChange}>
    <Radix.Portal>
      <Radix.Overlay className="fixed inset-0 z-40 bg-ink/30" />
      <Radix.Content className="fixed left-1/2 top-[10vh] z-50 w-[min(34rem,92vw)] -translate-x-1/2 border border-strong bg-sheet shadow-xl">
        <Radix.Title className="sr-only">Commands</Radix.Title>
        <Radix.Description className="sr-only">Type to find a command, Enter carries it out.</Radix.Description>
        <List label="Commands">
          <List.Input
            placeholder="What would you like to do?"
            className="w-full border-b border-strong bg-sheet px-4 py-3 font-serif text-xl"
          />
          <List.List className="max-h-[60vh] overflow-auto p-2">
            <List.Empty className="p-3 text-soft">No command has these words.</List.Empty>
            {GROUPS.map((group) => (
              <List.Group
                key={group}
                heading={group}
                className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:font-serif [&_[cmdk-group-heading]]:text-soft"
              >
                {COMMANDS.filter((command) => command.group === group).map((command) => (
                  <List.Item
                    key={command.id}
                    value={command.name}
                    className="flex cursor-pointer justify-between px-2 py-1 data-[selected=true]:bg-selected"
                    onSelect={() => {
                      onOpenChange(false);
                      command.run(context);
                    }}
                  >
                    {command.name}
                    <kbd className="font-sans text-sm text-soft">{command.keys.map(keyName).join(' or ')}</kbd>
                  </List.Item>
                ))}
              </List.Group>
            ))}
            <StepItems onOpenChange={onOpenChange} />
          </List.List>
        </List>
      </Radix.Content>
    </Radix.Portal>
  </Radix.Root>
);

/** Every step, with how many of the selected notes it would touch. */
const StepItems = ({ onOpenChange }: { onOpenChange: (open: boolean) => void }) => {
  const dispatch = useAppDispatch();
  const { selection, frontPartId } = useAppSelector(selectDesk);
  const [counts, setCounts] = useState<ReadonlyMap<StepId, number>>(new Map());
  useEffect(() => {
    if (frontPartId === null || selection.length === 0) return;
    void deskWorker()
      .stepCounts(frontPartId, selection)
      .then((list) => setCounts(new Map(list)));
  }, [frontPartId, selection]);
  return (
    <List.Group
      heading={
        selection.length > 0 ? `Steps on ${counted(selection.length, 'selected note')}` : 'Steps on the selection'
      }
      className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:font-serif [&_[cmdk-group-heading]]:text-soft"
    >
      {STEP_IDS.map((step) => (
        <List.Item
          key={step}
          value={`${stepById(step).name} selection`}
          className="flex cursor-pointer justify-between px-2 py-1 data-[selected=true]:bg-selected"
          onSelect={() => {
            onOpenChange(false);
            dispatch(deskActions.stepDialogShown(step));
          }}
        >
          {stepById(step).name}…<span className="text-sm tabular-nums text-soft">{counts.get(step) ?? ''}</span>
        </List.Item>
      ))}
    </List.Group>
  );
};
