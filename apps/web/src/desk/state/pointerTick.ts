/** Where the pointer last was in the roll, in ticks; null before it ever was. */
import { createValueStore } from '../../ui/valueStore.js';

export const pointerTick = createValueStore<number | null>(null);
