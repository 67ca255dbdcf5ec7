/** What playing and sounds bring to the Desk. */
import { PLAY_COMMANDS } from '../../actions/commands/playCommands.js';
import type { Brings } from '../../controls/brings.js';
import { SoundsPanel } from './SoundsPanel.js';

export const SOUNDS: Brings = { commands: PLAY_COMMANDS, tools: { sounds: () => <SoundsPanel /> } };
