/** Before the journeys of a file: what sounds is silent. */
import { vi } from 'vitest';

vi.mock('tone', async () => (await import('./silence.js')).silentTone);
