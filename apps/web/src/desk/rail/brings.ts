/** What choosing parts and notes brings to the Desk. */
import { SELECT_COMMANDS } from '../actions/commands/selectCommands.js';
import type { Brings } from '../controls/brings.js';

export const CHOOSING: Brings = { commands: SELECT_COMMANDS };
