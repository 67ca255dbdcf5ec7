import { createValueStore } from '../../ui/valueStore.js';

/** The step that is shown; null for none. */
export const tourStep = createValueStore<number | null>(null);

/** Takes the tour from its beginning, or ends it. */
export const turnTour = (): void => {
  tourStep.set(tourStep.get() === null ? 0 : null);
};
