/** Notes entered one after another, and playing in: one at a time. */
import type { Entry } from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import { pieceActions } from './pieceSlice.js';
import { plainSlice, when } from './plainSlice.js';

/** How a part is played in. */
export interface PlayInWishes {
  /** Bars that count in. */
  readonly countIn: number;
  readonly metronome: boolean;
  /** True where what stood there goes; else it is laid over it. */
  readonly replaces: boolean;
}

/** See the file's head. */
export interface EnteringState {
  /** Null while no notes are entered. */
  readonly entry: Entry | null;
  /** How each step of entering stood before, the newest last; `position` is the history's after it. */
  readonly entryPast: readonly { readonly entry: Entry; readonly edited: boolean; readonly position: number }[];
  /** Open to play in, or not. */
  readonly playIn: boolean;
  readonly playInWishes: PlayInWishes;
  /** How many notes the take under way has; null while there is none. */
  readonly taken: number | null;
}

const initialState: EnteringState = {
  entry: null,
  entryPast: [],
  playIn: false,
  playInWishes: { countIn: 1, metronome: true, replaces: false },
  taken: null,
};

/** One step of entering. */
interface EntryMoved {
  readonly entry: Entry;
  readonly before: Entry;
  readonly edited: boolean;
  /** The history's place after it. */
  readonly position: number;
}

const slice = plainSlice(
  {
    name: 'entering',
    initialState,
    reducers: {
      entrySet: (state, { payload }: PayloadAction<Entry | null>): EnteringState => ({
        ...state,
        entry: payload,
        entryPast: payload ? state.entryPast : [],
        playIn: payload ? false : state.playIn,
      }),
      entryMoved: (
        state,
        { payload: { entry, before, edited, position } }: PayloadAction<EntryMoved>,
      ): EnteringState => ({
        ...state,
        entry,
        entryPast: [...state.entryPast, { entry: before, edited, position }],
      }),
      entryBack: (state): EnteringState => ({
        ...state,
        entry: state.entryPast.at(-1)?.entry ?? state.entry,
        entryPast: state.entryPast.slice(0, -1),
      }),
      playInOpened: (state, { payload }: PayloadAction<boolean>): EnteringState => ({
        ...state,
        playIn: payload,
        entry: payload ? null : state.entry,
      }),
      takenCounted: (state, { payload }: PayloadAction<number | null>): EnteringState => ({ ...state, taken: payload }),
      playInWished: (state, { payload }: PayloadAction<Partial<PlayInWishes>>): EnteringState => ({
        ...state,
        playInWishes: { ...state.playInWishes, ...payload },
      }),
    },
  },
  [
    when(pieceActions.ticksScaled, (state, factor) => ({
      ...state,
      entry: state.entry && { ...state.entry, at: state.entry.at * factor },
    })),
  ],
);

export const enteringActions = slice.actions;
export const enteringReducer = slice.reducer;
