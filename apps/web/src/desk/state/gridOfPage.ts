/** The page's own divisions for the front part, while the grid is made of them. */

import { createValueStore } from '../../ui/valueStore.js';
import type { PageGrid } from './pageGrid.js';

export const gridOfPage = createValueStore<PageGrid | null>(null);
