/** What the settings that stand open would do, so that the roll can draw it and the player can sound it. */
import type { Edit } from '@crispfold/core';
import { createValueStore } from '../../ui/valueStore.js';

/** The Edit that is tried; null for none. */
export const triedEdit = createValueStore<Edit | null>(null);
