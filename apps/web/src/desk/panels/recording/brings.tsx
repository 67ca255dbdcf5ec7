/** What a recording beside the notes brings to the Desk. */
import type { Brings } from '../../controls/brings.js';
import { RecordingPanel } from './RecordingPanel.js';

export const RECORDING: Brings = { tools: { recording: () => <RecordingPanel /> } };
