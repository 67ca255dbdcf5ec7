/** The sound of the recording beside the notes, and the attacks that were found in it. */
import type { Attack } from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import { plainSlice } from './plainSlice.js';

/** A recording that can be heard and drawn. */
export interface Sound {
  /** What the worker knows it by. */
  readonly key: number;
  readonly buffer: AudioBuffer;
  /** Pairs of least and most. */
  readonly peaks: Int8Array;
  readonly peaksPerSecond: number;
  /** The highest peak, at least 1. */
  readonly loudest: number;
}

/** How far it is with the recording of this id. */
export type SoundState =
  | { readonly kind: 'none' }
  | { readonly kind: 'loading'; readonly id: string }
  | { readonly kind: 'ready'; readonly id: string; readonly sound: Sound }
  | { readonly kind: 'failed'; readonly id: string; readonly message: string };

/** See the file's head. */
export interface RecordingState {
  readonly sound: SoundState;
  /** Null until they are looked for. */
  readonly attacks: readonly Attack[] | null;
}

const initialState: RecordingState = { sound: { kind: 'none' }, attacks: null };

const slice = plainSlice({
  name: 'recording',
  initialState,
  reducers: {
    /** Another recording, or the same one further on: attacks are of the one that they were found in. */
    soundChanged: (state, { payload }: PayloadAction<SoundState>): RecordingState => ({
      sound: payload,
      attacks: payload.kind === 'loading' ? null : state.attacks,
    }),
    soundAdded: (_state, { payload }: PayloadAction<SoundState>): RecordingState => ({ sound: payload, attacks: null }),
    attacksFound: (state, { payload }: PayloadAction<readonly Attack[]>): RecordingState => ({
      ...state,
      attacks: payload,
    }),
  },
});

export const recordingActions = slice.actions;
export const recordingReducer = slice.reducer;
