/** The sentences that a person keeps, for any arrangement: read once, and kept in step with the server. */
import type { Sentence } from '@crispfold/core';
import { api } from '../../browser/api.js';
import { createValueStore } from '../../ui/valueStore.js';

/** Those that are kept, by name; null until they are read. */
export const savedSentences = createValueStore<readonly Sentence[] | null>(null);

/** Reads them from the server. Rejects as the fetch client does. */
export const loadSentences = async (): Promise<void> => {
  savedSentences.set(await api.sentences());
};

/** Keeps sentences, each in the place of one of its name; a key that another has goes to the new one. */
export const keepSentences = async (sentences: readonly Sentence[]): Promise<void> => {
  for (const sentence of sentences) {
    const others = (savedSentences.get() ?? []).filter(
      (other) => sentence.key !== undefined && other.key === sentence.key && other.name !== sentence.name,
    );
    for (const { key: _, ...other } of others) await api.saveSentence(other);
    await api.saveSentence(sentence);
  }
  await loadSentences();
};

/** Forgets a sentence. */
export const forgetSentence = async (name: string): Promise<void> => {
  await api.deleteSentence(name);
  await loadSentences();
};
