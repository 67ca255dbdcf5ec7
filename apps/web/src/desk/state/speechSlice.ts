/** What is said: the words at the foot of the Desk, and what a screen reader hears. */
import type { PayloadAction } from '@reduxjs/toolkit';
import { plainSlice } from './plainSlice.js';

/** See the file's head. */
export interface SpeechState {
  /** What the pointer or the keys will do next. */
  readonly hint: string;
  /** Spoken by screen readers when it changes. */
  readonly spoken: string;
  /** Why a command did not apply, as the foot was told last. */
  readonly refusal: string;
  /** True where little is said: what a note is and where, without what is small about it. */
  readonly terse: boolean;
}

const slice = plainSlice({
  name: 'speech',
  initialState: { hint: '', spoken: '', refusal: '', terse: false } as SpeechState,
  reducers: {
    hinted: (state, { payload }: PayloadAction<string>): SpeechState =>
      state.hint === payload ? state : { ...state, hint: payload },
    said: (state, { payload }: PayloadAction<string>): SpeechState =>
      state.spoken === payload ? state : { ...state, spoken: payload },
    /** A command does not apply: the foot and the voice say why. */
    refused: (state, { payload }: PayloadAction<string>): SpeechState => ({
      ...state,
      hint: payload,
      spoken: payload,
      refusal: payload,
    }),
    /** A command applies: why another did not is no longer to the point. */
    refusalOver: (state): SpeechState =>
      state.refusal === '' ? state : { ...state, hint: state.hint === state.refusal ? '' : state.hint, refusal: '' },
    terseSet: (state, { payload }: PayloadAction<boolean>): SpeechState => ({ ...state, terse: payload }),
  },
});

export const speechActions = slice.actions;
/** Says what the pointer or the keys will do next, at the foot; and something, aloud. */
export const { hinted, said } = slice.actions;
export const speechReducer = slice.reducer;
