/** What tempo and beats bring to the Desk. */
import type { Brings } from '../../controls/brings.js';
import { BeatsPanel } from './BeatsPanel.js';
import { SlowDownPanel } from './SlowDownPanel.js';

export const TEMPO: Brings = { tools: { slowDown: () => <SlowDownPanel />, beats: () => <BeatsPanel /> } };
