/** The notes that the sentence in hand picks, so that the roll can tint them. */
import { NOTHING, type Selection } from '@crispfold/core';
import { createValueStore } from '../../ui/valueStore.js';

export const pickedNotes = createValueStore<Selection>(NOTHING);
