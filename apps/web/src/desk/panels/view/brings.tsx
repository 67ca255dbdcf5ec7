/** What ways of looking bring to the Desk. */
import { VIEW_COMMANDS } from '../../actions/commands/viewCommands.js';
import type { Brings } from '../../controls/brings.js';
import { GoToPanel } from './GoToPanel.js';
import { SeeingPanel } from './SeeingPanel.js';

export const VIEW: Brings = {
  commands: VIEW_COMMANDS,
  tools: { seeing: () => <SeeingPanel />, goTo: (context) => <GoToPanel context={context} /> },
};
