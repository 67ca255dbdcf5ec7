/** What work on whole parts brings to the Desk. */
import { PART_COMMANDS } from '../../actions/commands/partCommands.js';
import type { Brings } from '../../controls/brings.js';
import { CombinePartsPanel } from './CombinePartsPanel.js';
import { DealOutPanel } from './DealOutPanel.js';
import { EmptyPartPanel } from './EmptyPartPanel.js';
import { PartPanel } from './PartPanel.js';
import { PercussionMapPanel } from './PercussionMapPanel.js';
import { SendToPanel } from './SendToPanel.js';
import { SplitPartPanel } from './SplitPartPanel.js';

export const PARTS: Brings = {
  commands: PART_COMMANDS,
  tools: {
    part: (context) => <PartPanel context={context} />,
    percussionMap: () => <PercussionMapPanel />,
    emptyPart: () => <EmptyPartPanel />,
    splitPart: () => <SplitPartPanel />,
    combineParts: () => <CombinePartsPanel />,
    sendTo: () => <SendToPanel />,
    dealOut: () => <DealOutPanel />,
  },
};
