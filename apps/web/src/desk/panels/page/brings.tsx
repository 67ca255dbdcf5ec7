/** What correcting the page brings to the Desk. */
import { CORRECTION_COMMANDS } from '../../actions/commands/correctionCommands.js';
import type { Brings } from '../../controls/brings.js';
import { PagePanel } from './PagePanel.js';
import { WayPanel } from './WayPanel.js';

export const PAGE: Brings = {
  commands: CORRECTION_COMMANDS,
  panel: { id: 'page', name: 'Page', shows: (context) => <PagePanel context={context} /> },
  tools: { way: () => <WayPanel /> },
};
