/** What the roll's window shows. */
import { lastTick } from '@crispfold/core';
import { createSelector, createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { RootState } from '../../../app/store.js';
import { createRows, type RollView, type Rows } from './rollView.js';

const initialState: RollView = { left: 0, ticksPerPixel: 4, top: 400, rowHeight: 12, width: 800, height: 400 };

const slice = createSlice({
  name: 'roll',
  initialState: initialState as RollView,
  reducers: {
    resized: (state, { payload }: PayloadAction<{ width: number; height: number }>): RollView => ({
      ...state,
      ...payload,
    }),
    viewSet: (_state, { payload }: PayloadAction<RollView>): RollView => payload,
  },
});

export const rollActions = slice.actions;
export const rollReducer = slice.reducer;

export const selectView = (state: RootState): RollView => state.roll;

/** Rows of the roll: all, or those that a part on view uses. */
export const selectRows: (state: RootState) => Rows = createSelector(
  (state: RootState) => state.desk.arrangement?.parts ?? [],
  (state: RootState) => state.desk.hidden,
  (state: RootState) => state.desk.usedRowsOnly,
  (parts, hidden, usedOnly) => {
    if (!usedOnly) return createRows(null);
    const used = new Set<number>();
    for (const part of parts) if (!hidden.includes(part.id)) for (const note of part.notes) used.add(note.pitch);
    return createRows(used.size > 0 ? used : null);
  },
);

/** The last tick of the music, at least one quarter. */
export const selectEndTick: (state: RootState) => number = createSelector(
  (state: RootState) => state.desk.arrangement,
  (arrangement) => (arrangement ? Math.max(arrangement.ppq, lastTick(arrangement.parts)) : 480),
);
