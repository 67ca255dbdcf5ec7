/** The feels that a person keeps, for any arrangement: read once, and kept in step with the server. */
import type { KeptFeel } from '@crispfold/core';
import { api } from '../../browser/api.js';
import { createValueStore } from '../../ui/valueStore.js';

/** Those that are kept, by name; null until they are read. */
export const keptFeels = createValueStore<readonly KeptFeel[] | null>(null);

/** Reads them from the server. Rejects as the fetch client does. */
export const loadFeels = async (): Promise<void> => {
  keptFeels.set(await api.feels());
};

/** Keeps a feel, in the place of one of its name. */
export const keepFeel = async (feel: KeptFeel): Promise<void> => {
  await api.saveFeel(feel);
  await loadFeels();
};

/** Forgets a feel. Plans that have it keep it. */
export const forgetFeel = async (name: string): Promise<void> => {
  await api.deleteFeel(name);
  await loadFeels();
};
