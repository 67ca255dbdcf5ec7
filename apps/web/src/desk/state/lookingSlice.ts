/** How the roll is seen: hue, names, rows, what lies beside the notes, and the crease. */
import type { ScaleId } from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import { editingActions } from './editingSlice.js';
import type { HueMode } from './hueModes.js';
import type { PageGrid } from './pageGrid.js';
import { pieceActions } from './pieceSlice.js';
import { plainSlice, when } from './plainSlice.js';

/** Which rows the roll has: all pitches, those in use, or besides those in use the scale's, or the percussion map's. */
export const ROWS_SHOWN = ['all', 'used', 'key', 'map'] as const;
/** One of them. */
export type RowsShown = (typeof ROWS_SHOWN)[number];
/** Where names stand: on notes with room, on all of the front part, or on none. */
export const NAMES_SHOWN = ['room', 'always', 'never'] as const;

/** How the roll is seen. */
export interface Seeing {
  readonly hue: HueMode;
  readonly names: (typeof NAMES_SHOWN)[number];
  readonly rows: RowsShown;
  /** The scale that rows go by; null is the key signature. */
  readonly scale: { readonly id: ScaleId; readonly root: number } | null;
  /** The other layer as a faint outline under the one that is shown, for the front part. */
  readonly outline: boolean;
  /** True where rows of the scale are marked. */
  readonly keyMarked: boolean;
  /** The whole piece as a strip above the roll. */
  readonly strip: boolean;
  /** The grid is the page's own divisions, beat by beat, instead of one value. */
  readonly pageGrid: boolean;
  /** The roll follows the playhead. */
  readonly follow: boolean;
  /** The recording under the ruler, and behind the notes. */
  readonly recording: boolean;
  readonly recordingBehind: boolean;
}

/** See the file's head. */
export interface LookingState {
  readonly seeing: Seeing;
  /** Where the crease lies, in ticks; null is home: all as played. */
  readonly creaseTick: number | null;
  /** The page's own divisions for the front part, while the grid is made of them. */
  readonly gridOfPage: PageGrid | null;
}

const initialState: LookingState = {
  seeing: {
    hue: 'part',
    names: 'room',
    rows: 'all',
    scale: null,
    outline: false,
    keyMarked: false,
    strip: true,
    pageGrid: false,
    follow: true,
    recording: false,
    recordingBehind: false,
  },
  creaseTick: null,
  gridOfPage: null,
};

const slice = plainSlice(
  {
    name: 'looking',
    initialState,
    reducers: {
      seen: (state, { payload }: PayloadAction<Partial<Seeing>>): LookingState => ({
        ...state,
        seeing: { ...state.seeing, ...payload },
      }),
      gridFound: (state, { payload }: PayloadAction<PageGrid | null>): LookingState => ({
        ...state,
        gridOfPage: payload,
      }),
      creaseMoved: (state, { payload }: PayloadAction<number | null>): LookingState => ({
        ...state,
        creaseTick: payload,
      }),
    },
  },
  [
    when(pieceActions.ticksScaled, (state, factor) => ({
      ...state,
      creaseTick: state.creaseTick === null ? null : state.creaseTick * factor,
    })),
    // A grid of one value takes the place of the page's own.
    when(editingActions.gridSet, (state) => ({ ...state, seeing: { ...state.seeing, pageGrid: false } })),
  ],
);

export const lookingActions = slice.actions;
export const lookingReducer = slice.reducer;
