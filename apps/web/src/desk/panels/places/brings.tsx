/** What meters, keys, tempi and markers bring to the Desk. */
import type { Brings } from '../../controls/brings.js';
import { PlacesPanel } from './PlacesPanel.js';

export const PLACES: Brings = { tools: { places: (context) => <PlacesPanel context={context} /> } };
