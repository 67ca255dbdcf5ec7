/** What the roll's window shows. */
import type { PayloadAction } from '@reduxjs/toolkit';
import { plainSlice } from './plainSlice.js';
import type { RollView } from './rollView.js';

/** The view, and the one before the last leap; scrolling is none. */
export interface RollState extends RollView {
  readonly before: RollView | null;
}

const initialState: RollState = {
  left: 0,
  ticksPerPixel: 4,
  top: 400,
  rowHeight: 12,
  width: 800,
  height: 400,
  before: null,
};

/** True where what is seen has hardly to do with what was: another zoom by far, or another place. */
const isLeap = (from: RollView, to: RollView): boolean => {
  const zoom = to.ticksPerPixel / from.ticksPerPixel;
  const window = from.width * from.ticksPerPixel;
  return zoom > 1.6 || zoom < 1 / 1.6 || Math.abs(to.left - from.left) > window * 0.6;
};

const viewOf = ({ before: _, ...view }: RollState): RollView => view;

/** The view before the last leap, at the size of now; null before any. */
export const viewBeforeLeap = ({ before, width, height }: RollState): RollView | null =>
  before && { ...before, width, height };

const slice = plainSlice({
  name: 'roll',
  initialState,
  reducers: {
    resized: (state, { payload }: PayloadAction<{ width: number; height: number }>): RollState => ({
      ...state,
      ...payload,
    }),
    /** The view as it is can be gone back to: another place is asked for by name. */
    viewKept: (state): RollState => ({ ...state, before: viewOf(state) }),
    viewSet: (state, { payload }: PayloadAction<RollView>): RollState => ({
      ...payload,
      before: isLeap(state, payload) ? viewOf(state) : state.before,
    }),
  },
});

export const rollActions = slice.actions;
export const rollReducer = slice.reducer;
