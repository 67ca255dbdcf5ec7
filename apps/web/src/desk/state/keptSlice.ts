/** What a person keeps for any arrangement: sentences and feels, by name. Null until they are read. */
import type { KeptFeel, Sentence } from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import { plainSlice } from './plainSlice.js';

/** See the file's head. */
export interface KeptState {
  readonly sentences: readonly Sentence[] | null;
  readonly feels: readonly KeptFeel[] | null;
}

const slice = plainSlice({
  name: 'kept',
  initialState: { sentences: null, feels: null } as KeptState,
  reducers: {
    sentencesRead: (state, { payload }: PayloadAction<readonly Sentence[]>): KeptState => ({
      ...state,
      sentences: payload,
    }),
    feelsRead: (state, { payload }: PayloadAction<readonly KeptFeel[]>): KeptState => ({ ...state, feels: payload }),
  },
});

export const keptActions = slice.actions;
export const keptReducer = slice.reducer;
