/** The sentences that a person keeps, for any arrangement: read once, and kept in step with the server. */
import type { Sentence } from '@crispfold/core';
import { api } from '../../browser/api.js';
import { keptActions } from '../state/keptSlice.js';
import type { Thunk } from './desk.js';

/** Reads them from the server. Rejects as the fetch client does. */
export const loadSentences = (): Thunk<Promise<void>> => async (dispatch) => {
  dispatch(keptActions.sentencesRead(await api.sentences()));
};

/** Keeps sentences, each in the place of one of its name; a key that another has goes to the new one. */
export const keepSentences =
  (sentences: readonly Sentence[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    for (const sentence of sentences) {
      const others = (getState().kept.sentences ?? []).filter(
        (other) => sentence.key !== undefined && other.key === sentence.key && other.name !== sentence.name,
      );
      for (const { key: _, ...other } of others) await api.saveSentence(other);
      await api.saveSentence(sentence);
    }
    await dispatch(loadSentences());
  };

/** Forgets a sentence. */
export const forgetSentence =
  (name: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    await api.deleteSentence(name);
    await dispatch(loadSentences());
  };
