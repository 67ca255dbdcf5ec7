/** The list of all commands: type a few letters, press Enter. */

import { Command as List } from 'cmdk';
import { Dialog as Radix } from 'radix-ui';
import { type CommandContext, carryOut } from '../actions/commands/command.js';
import { keyName, LISTS } from '../actions/commands/keyTable.js';
import { keysOf } from '../actions/commands/ownKeys.js';
import { rankOf } from '../actions/commands/rank.js';
import { knownSentences } from '../actions/commands/sentenceCommands.js';
import { doSentence } from '../actions/doSentence.js';
import { deskActions } from '../state/deskSlice.js';
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
        <List label="Commands" filter={rankOf}>
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
                {COMMANDS.filter((command) => command.group === group).flatMap((command) => {
                  const why = open ? command.when(context.getState()) : null;
                  const { id, name, step } = command;
                  const item = (words: string, keys: string, act: () => void) => (
                    <List.Item
                      key={words}
                      value={words}
                      disabled={why !== null}
                      className="flex cursor-pointer justify-between gap-4 px-2 py-1 data-[disabled=true]:text-soft data-[selected=true]:bg-selected"
                      onSelect={() => {
                        onOpenChange(false);
                        act();
                      }}
                    >
                      <span className="min-w-0">
                        {words}
                        {why && <span className="block text-sm text-soft">{why}</span>}
                      </span>
                      <kbd className="whitespace-nowrap font-sans text-sm text-soft">{keys}</kbd>
                    </List.Item>
                  );
                  const own = item(name, keysOf(id).map(keyName).join(' or '), () => carryOut(command, context));
                  if (!step) return [own];
                  return [
                    own,
                    item(`${name}: settings…`, '', () => context.dispatch(deskActions.stepSettingsShown(step))),
                  ];
                })}
              </List.Group>
            ))}
            <List.Group
              heading="Sentences to do"
              className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:font-serif [&_[cmdk-group-heading]]:text-soft"
            >
              {(open ? knownSentences() : []).map((sentence) => (
                <List.Item
                  key={sentence.name}
                  value={`${sentence.name} (sentence)`}
                  className="flex cursor-pointer justify-between gap-4 px-2 py-1 data-[selected=true]:bg-selected"
                  onSelect={() => {
                    onOpenChange(false);
                    void context.dispatch(doSentence(sentence));
                  }}
                >
                  {sentence.name}
                  <kbd className="whitespace-nowrap font-sans text-sm text-soft">
                    {sentence.key ? keyName(`${LISTS.sentences.key} ${sentence.key}`) : ''}
                  </kbd>
                </List.Item>
              ))}
            </List.Group>
          </List.List>
        </List>
      </Radix.Content>
    </Radix.Portal>
  </Radix.Root>
);
