/** Every command of the Desk. Screens, the command list, the menu and the keys read it. */
import { type Command, inGroup, lastDone } from './command.js';
import { CORRECTION_COMMANDS } from './correctionCommands.js';
import { EDIT_COMMANDS } from './editCommands.js';
import { FINDING_COMMANDS } from './findingCommands.js';
import { LANE_COMMANDS } from './laneCommands.js';
import { PART_COMMANDS } from './partCommands.js';
import { PLAY_COMMANDS } from './playCommands.js';
import { SELECT_COMMANDS } from './selectCommands.js';
import { SENTENCE_COMMANDS } from './sentenceCommands.js';
import { STEP_COMMANDS } from './stepCommands.js';
import { VIEW_COMMANDS } from './viewCommands.js';

const command = inGroup('Arrangement');

/** Repeats the last change, with its parameters of then, on what is selected now. */
const again: Command = {
  ...inGroup('Edit')('again', 'Do the last thing again', (context) => {
    lastDone.get()?.act(context);
  }),
  when: () => (lastDone.get() === null ? 'Nothing was done yet that could be done again.' : null),
};

/** All commands, in the list's order. */
export const COMMANDS: readonly Command[] = [
  ...PLAY_COMMANDS,
  ...VIEW_COMMANDS,
  ...PART_COMMANDS,
  ...SELECT_COMMANDS,
  ...FINDING_COMMANDS,
  again,
  ...EDIT_COMMANDS,
  ...STEP_COMMANDS,
  ...CORRECTION_COMMANDS,
  ...LANE_COMMANDS,
  ...SENTENCE_COMMANDS,
  command('export', 'Export files', ({ openExport }) => openExport()),
  command('commands', 'List all commands', ({ openCommands }) => openCommands()),
  command('library', 'Go to the library', ({ leave }) => leave()),
];
