/** What the findings bring to the Desk. */
import { FINDING_COMMANDS } from '../../actions/commands/findingCommands.js';
import type { Brings } from '../../controls/brings.js';
import { FindingsPanel } from './FindingsPanel.js';

export const FINDINGS: Brings = {
  commands: FINDING_COMMANDS,
  panel: { id: 'findings', name: 'Findings', shows: (context) => <FindingsPanel context={context} /> },
};
