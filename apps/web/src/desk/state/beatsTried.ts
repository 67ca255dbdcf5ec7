/** The beats that are tried: drawn over the roll until they are accepted or left. */
import type { FoundBeats } from '@crispfold/core';
import { createValueStore } from '../../ui/valueStore.js';

/** Null while none are tried. */
export const beatsTried = createValueStore<FoundBeats | null>(null);
