/** How it is played: the loop, the metronome, whether edits are heard. */
import type { PayloadAction } from '@reduxjs/toolkit';
import { pieceActions } from './pieceSlice.js';
import { plainSlice, when } from './plainSlice.js';
import { switched, turning } from './switched.js';

/** The stretch of music that repeats, in ticks. */
export interface LoopRange {
  readonly start: number;
  readonly end: number;
}

/** See the file's head. */
export interface PlaybackState {
  readonly loop: LoopRange | null;
  readonly loopOn: boolean;
  readonly metronome: boolean;
  readonly hearEdits: boolean;
}

const initialState: PlaybackState = { loop: null, loopOn: false, metronome: false, hearEdits: true };

const slice = plainSlice(
  {
    name: 'playback',
    initialState,
    reducers: {
      loopSet: (state, { payload }: PayloadAction<LoopRange | null>): PlaybackState => ({
        ...state,
        loop: payload,
        loopOn: payload !== null,
      }),
    },
  },
  [
    when(pieceActions.ticksScaled, (state, factor) => ({
      ...state,
      loop: state.loop && { start: state.loop.start * factor, end: state.loop.end * factor },
    })),
    when(switched, turning('loopOn', 'metronome', 'hearEdits')),
  ],
);

export const playbackActions = slice.actions;
export const playbackReducer = slice.reducer;
