/** What keys of one's own bring to the Desk. */
import type { Brings } from '../../controls/brings.js';
import { KeysPanel } from './KeysPanel.js';

export const KEYS_OF_ONES_OWN: Brings = { tools: { keys: (context) => <KeysPanel context={context} /> } };
