/** What the roll's window shows. */
import { createSlice, current, type PayloadAction } from '@reduxjs/toolkit';
import type { RollView } from './rollView.js';

const initialState: RollView = { left: 0, ticksPerPixel: 4, top: 400, rowHeight: 12, width: 800, height: 400 };

/** The view before the last leap; scrolling is none. */
let viewBefore: RollView | null = null;

/** True where what is seen has hardly to do with what was: another zoom by far, or another place. */
const isLeap = (from: RollView, to: RollView): boolean => {
  const zoom = to.ticksPerPixel / from.ticksPerPixel;
  const window = from.width * from.ticksPerPixel;
  return zoom > 1.6 || zoom < 1 / 1.6 || Math.abs(to.left - from.left) > window * 0.6;
};

/** The view before the last leap, at the size of now; null before any. */
export const viewBeforeLeap = ({ width, height }: RollView): RollView | null =>
  viewBefore && { ...viewBefore, width, height };

const slice = createSlice({
  name: 'roll',
  initialState: initialState as RollView,
  reducers: {
    resized: (state, { payload }: PayloadAction<{ width: number; height: number }>): RollView => ({
      ...state,
      ...payload,
    }),
    /** The view as it is can be gone back to: another place is asked for by name. */
    viewKept: (state): void => {
      viewBefore = current(state);
    },
    viewSet: (state, { payload }: PayloadAction<RollView>): RollView => {
      if (isLeap(state, payload)) viewBefore = current(state);
      return payload;
    },
  },
});

export const rollActions = slice.actions;
export const rollReducer = slice.reducer;
