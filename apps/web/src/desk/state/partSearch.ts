/** True while a part is sought by its name. */
import { createValueStore } from '../../ui/valueStore.js';

export const partSearch = createValueStore(false);
