/** What lanes bring to the Desk. */
import { LANE_COMMANDS } from '../actions/commands/laneCommands.js';
import type { Brings } from '../controls/brings.js';

export const LANES: Brings = { commands: LANE_COMMANDS };
