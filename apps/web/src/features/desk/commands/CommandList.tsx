/** The list of all commands: type a few letters, press Enter. */

import { STEP_IDS, selectionSize, stepById } from '@crispfold/core';
import { Command as List } from 'cmdk';
import { Dialog as Radix } from 'radix-ui';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { counted } from '../../../ui/words.js';
import { deskActions } from '../deskSlice.js';
import { selectEditable } from '../selectors.js';
import { useStepCounts } from '../steps/useStepCounts.js';
import { type CommandContext, carryOut } from './command.js';
import { KEYS, keyName } from './keyTable.js';
import { COMMANDS } from './registry.js';

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
                {COMMANDS.filter((command) => command.group === group).map((command) => {
                  const why = open ? command.when(context.getState()) : null;
                  return (
                    <List.Item
                      key={command.id}
                      value={command.name}
                      disabled={why !== null}
                      className="flex cursor-pointer justify-between gap-4 px-2 py-1 data-[disabled=true]:text-soft data-[selected=true]:bg-selected"
                      onSelect={() => {
                        onOpenChange(false);
                        carryOut(command, context);
                      }}
                    >
                      <span className="min-w-0">
                        {command.name}
                        {why && <span className="block text-sm text-soft">{why}</span>}
                      </span>
                      <kbd className="whitespace-nowrap font-sans text-sm text-soft">
                        {KEYS[command.id].map(keyName).join(' or ')}
                      </kbd>
                    </List.Item>
                  );
                })}
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
  const selected = useAppSelector((state) => selectionSize(selectEditable(state)));
  const counts = useStepCounts(true);
  return (
    <List.Group
      heading={selected > 0 ? `Steps on ${counted(selected, 'selected note')}` : 'Steps on the selection'}
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
