/** The bars that the page shows, so that the roll can mark them. */
import { createValueStore } from '../../ui/valueStore.js';

export const pageBars = createValueStore<{ readonly first: number; readonly last: number } | null>(null);
