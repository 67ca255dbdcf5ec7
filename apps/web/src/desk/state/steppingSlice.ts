/** Clean-up steps as a person uses them: the settings of last time, what is tried, and what could have gone either way. */
import {
  type Doubt,
  type Edit,
  type FoundBeats,
  NOTHING,
  type Selection,
  type StepId,
  type StepParameters,
} from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import type { TriedStep } from '../../engine/protocol.js';
import { plainSlice } from './plainSlice.js';

/** See the file's head. */
export interface SteppingState {
  /** The parameters that each step was last carried out with; the defaults where it never was. */
  readonly lastParameters: { readonly [Id in StepId]?: Partial<StepParameters[Id]> };
  /** Starts that the last quantize could have put elsewhere, and which of them is looked at. */
  readonly doubts: readonly Doubt[];
  readonly doubtAt: number;
  /** What the settings that stand open would do, so that the roll can draw it and the player can sound it. */
  readonly tried: Edit | null;
  /** The notes that the sentence in hand picks, so that the roll can tint them. */
  readonly picked: Selection;
  /** Beats that were found, while they are looked at. */
  readonly beats: FoundBeats | null;
}

const initialState: SteppingState = {
  lastParameters: {},
  doubts: [],
  doubtAt: 0,
  tried: null,
  picked: NOTHING,
  beats: null,
};

const slice = plainSlice({
  name: 'stepping',
  initialState,
  reducers: {
    parametersUsed: (state, { payload }: PayloadAction<TriedStep>): SteppingState => ({
      ...state,
      lastParameters: { ...state.lastParameters, [payload.step]: payload.parameters },
    }),
    doubtsFound: (state, { payload }: PayloadAction<readonly Doubt[]>): SteppingState => ({
      ...state,
      doubts: payload,
      doubtAt: 0,
    }),
    doubtChosen: (state, { payload }: PayloadAction<number>): SteppingState => ({ ...state, doubtAt: payload }),
    tried: (state, { payload }: PayloadAction<Edit | null>): SteppingState =>
      state.tried === payload ? state : { ...state, tried: payload },
    beatsTried: (state, { payload }: PayloadAction<FoundBeats | null>): SteppingState => ({
      ...state,
      beats: payload,
    }),
    picked: (state, { payload }: PayloadAction<Selection>): SteppingState =>
      state.picked === payload ? state : { ...state, picked: payload },
  },
});

export const steppingActions = slice.actions;
export const steppingReducer = slice.reducer;
