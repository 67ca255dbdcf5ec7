/** The feels that a person keeps, for any arrangement: read once, and kept in step with the server. */
import type { KeptFeel } from '@crispfold/core';
import { api } from '../../browser/api.js';
import { keptActions } from '../state/keptSlice.js';
import type { Thunk } from './desk.js';

/** Reads them from the server. Rejects as the fetch client does. */
export const loadFeels = (): Thunk<Promise<void>> => async (dispatch) => {
  dispatch(keptActions.feelsRead(await api.feels()));
};

/** Keeps a feel, in the place of one of its name. */
export const keepFeel =
  (feel: KeptFeel): Thunk<Promise<void>> =>
  async (dispatch) => {
    await api.saveFeel(feel);
    await dispatch(loadFeels());
  };

/** Forgets a feel. Plans that have it keep it. */
export const forgetFeel =
  (name: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    await api.deleteFeel(name);
    await dispatch(loadFeels());
  };
