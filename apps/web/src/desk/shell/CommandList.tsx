/** The list of all commands: type a few letters, press Enter. */
import { Command as List } from 'cmdk';
import { Dialog as Radix } from 'radix-ui';
import type { CommandContext } from '../actions/commands/command.js';
import { rankOf } from '../actions/commands/rank.js';
import { listedCommands } from './commandListModel.js';

const GROUP =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:font-serif [&_[cmdk-group-heading]]:text-soft';

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
            <Groups context={context} onChosen={() => onOpenChange(false)} />
          </List.List>
        </List>
      </Radix.Content>
    </Radix.Portal>
  </Radix.Root>
);

/** The list's own groups: made when it opens. */
const Groups = ({ context, onChosen }: { context: CommandContext; onChosen: () => void }) =>
  listedCommands(context).map(({ heading, lines }) => (
    <List.Group key={heading} heading={heading} className={GROUP}>
      {lines.map(({ words, sought, keys, why, act }) => (
        <List.Item
          key={words}
          value={sought}
          disabled={why !== null}
          className="flex cursor-pointer justify-between gap-4 px-2 py-1 data-[disabled=true]:text-soft data-[selected=true]:bg-selected"
          onSelect={() => {
            onChosen();
            act();
          }}
        >
          <span className="min-w-0">
            {words}
            {why && <span className="block text-sm text-soft">{why}</span>}
          </span>
          <kbd className="whitespace-nowrap font-sans text-sm text-soft">{keys}</kbd>
        </List.Item>
      ))}
    </List.Group>
  ));
