/** Corrections of the page that are given to notes one after another, and marks that stay where they are. */
import type { PageMark, PageWish } from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import { toggled } from './lists.js';
import { plainSlice, when } from './plainSlice.js';
import { switched } from './switched.js';

/** See the file's head. */
export interface CorrectingState {
  /** True while corrections of the page are given to notes one after another. */
  readonly giveOn: boolean;
  /** The one that is given to each note that is selected. */
  readonly giving: PageWish | null;
  /** Kinds of marks over the score that are not moved on the page. */
  readonly marksLocked: readonly PageMark[];
}

const initialState: CorrectingState = { giveOn: false, giving: null, marksLocked: [] };

const slice = plainSlice(
  {
    name: 'correcting',
    initialState,
    reducers: {
      givingSet: (state, { payload }: PayloadAction<PageWish | null>): CorrectingState => ({
        ...state,
        giving: payload,
        giveOn: payload !== null,
      }),
      markLockTurned: (state, { payload }: PayloadAction<PageMark>): CorrectingState => ({
        ...state,
        marksLocked: toggled(state.marksLocked, payload),
      }),
      marksLockedSet: (state, { payload }: PayloadAction<readonly PageMark[]>): CorrectingState => ({
        ...state,
        marksLocked: payload,
      }),
    },
  },
  [when(switched, (state, what) => (what === 'giveOn' ? { ...state, giving: null, giveOn: !state.giveOn } : state))],
);

export const correctingActions = slice.actions;
export const correctingReducer = slice.reducer;
