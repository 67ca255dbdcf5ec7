/** What the roll's window shows. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { RollView } from './rollView.js';

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
