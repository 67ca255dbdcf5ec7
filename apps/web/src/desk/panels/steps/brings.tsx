/** What the clean-up steps bring to the Desk. Their own settings are shown by the step's name. */
import { STEP_COMMANDS } from '../../actions/commands/stepCommands.js';
import type { Brings } from '../../controls/brings.js';
import { LineUpPanel } from './LineUpPanel.js';
import { RandomPitchesPanel } from './RandomPitchesPanel.js';
import { RepeatPanel } from './RepeatPanel.js';

export const STEPS: Brings = {
  commands: STEP_COMMANDS,
  tools: {
    lineUp: () => <LineUpPanel />,
    randomPitches: () => <RandomPitchesPanel />,
    repeat: () => <RepeatPanel />,
  },
};
