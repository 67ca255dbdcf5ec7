/** What editing notes in the roll brings to the Desk. */
import { AGAIN } from '../actions/commands/arrangementCommands.js';
import { EDIT_COMMANDS } from '../actions/commands/editCommands.js';
import type { Brings } from '../controls/brings.js';

export const ROLL: Brings = { commands: [AGAIN, ...EDIT_COMMANDS] };
