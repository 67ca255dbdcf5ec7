/** Commands about the arrangement as a whole, and the one that repeats the last change. */
import { type Command, inGroup } from './command.js';

const command = inGroup('Arrangement');

export const ARRANGEMENT_COMMANDS: readonly Command[] = [
  command('export', 'Export files', ({ openExport }) => openExport()),
  command('commands', 'List all commands', ({ openCommands }) => openCommands()),
  command('library', 'Go to the library', ({ leave }) => leave()),
];

/** Repeats the last change, with its parameters of then, on what is selected now. */
export const AGAIN: Command = {
  ...inGroup('Edit')('again', 'Do the last thing again', ({ desk }) => desk.again.get()?.()),
  when: (_state, desk) => (desk.again.get() === null ? 'Nothing was done yet that could be done again.' : null),
};
