/** What is looked at now and then brings to the Desk. */
import type { Brings } from '../../controls/brings.js';
import { MorePanel } from './MorePanel.js';

export const MORE: Brings = {
  panel: { id: 'more', name: 'More', shows: (context) => <MorePanel context={context} /> },
};
