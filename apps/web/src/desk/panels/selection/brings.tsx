/** What the selection's panel brings to the Desk. */
import type { Brings } from '../../controls/brings.js';
import { SelectionPanel } from './SelectionPanel.js';

export const SELECTION: Brings = { panel: { id: 'note', name: 'Selection', shows: () => <SelectionPanel /> } };
