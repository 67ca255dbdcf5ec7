/** How notes are called: the person's choice, kept in the browser; the page and its workers begin with it. */
import { chooseNaming, chosenNaming, DEFAULT_NAMING, type Naming, NOTE_NAMES } from '@crispfold/core';

const KEY = 'crispfold-naming';

const isNaming = (value: unknown): value is Naming => {
  const { names, middleC } = (value ?? {}) as Partial<Naming>;
  return names !== undefined && Object.hasOwn(NOTE_NAMES, names) && [3, 4, 5].includes(middleC ?? 0);
};

const read = (text: string | null): Naming => {
  try {
    const value: unknown = JSON.parse(text ?? 'null');
    return isNaming(value) ? value : DEFAULT_NAMING;
  } catch {
    return DEFAULT_NAMING;
  }
};

/** Applies the stored choice, before anything is named. */
export const applyStoredNaming = (): void => {
  try {
    chooseNaming(read(localStorage.getItem(KEY)));
  } catch {
    // Where the browser keeps nothing, the usual names stand.
  }
};

/** What a worker is started with, so that it names notes as the page does: its name. */
export const namingForWorker = (): string => JSON.stringify(chosenNaming());

/** In a worker: takes over what it was started with. */
export const applyNamingOfWorker = (): void => chooseNaming(read(self.name));

/** Keeps another choice; words that were made would stay as they are, so the page opens anew. */
export const storeNaming = (naming: Naming): void => {
  localStorage.setItem(KEY, JSON.stringify(naming));
  location.reload();
};
