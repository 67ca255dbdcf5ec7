/** The SoundFont that the server keeps, and whether this browser plays with it. */
import type { SoundFontItem } from '@crispfold/contract';
import type { PayloadAction } from '@reduxjs/toolkit';
import { plainSlice } from './plainSlice.js';

/** See the file's head. */
export interface SoundFontState {
  /** Undefined before the server was asked. */
  readonly item: SoundFontItem | null | undefined;
  /** False where the built-in sounds are wanted all the same. */
  readonly wanted: boolean;
}

const slice = plainSlice({
  name: 'soundFont',
  initialState: { item: undefined, wanted: true } as SoundFontState,
  reducers: {
    soundFontKnown: (state, { payload }: PayloadAction<SoundFontItem | null>): SoundFontState => ({
      ...state,
      item: payload,
    }),
    soundFontWanted: (state, { payload }: PayloadAction<boolean>): SoundFontState => ({ ...state, wanted: payload }),
  },
});

export const soundFontActions = slice.actions;
export const soundFontReducer = slice.reducer;
