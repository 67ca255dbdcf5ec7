/** The lanes under the roll: which there are, how tall, the tool in hand, and the points that are chosen. */
import type { PayloadAction } from '@reduxjs/toolkit';
import { toggled } from './lists.js';
import { plainSlice } from './plainSlice.js';

/** Choosing points, or drawing them freely, along a straight line, or along a curve. */
export const LANE_TOOLS = ['choose', 'free', 'line', 'curve'] as const;
/** One of them. */
export type LaneTool = (typeof LANE_TOOLS)[number];

/** How lanes are worked in. */
export interface LaneHand {
  readonly tool: LaneTool;
  /** New points ramp to the next. */
  readonly ramps: boolean;
  /** Of curves, from -1 to 1. */
  readonly ease: number;
  /** A change of tempo moves the bars under the notes, which keep their time; otherwise notes keep their bars. */
  readonly keepTimes: boolean;
}

/** See the file's head. */
export interface LanesState {
  /** By their keys, from the top. */
  readonly lanes: readonly string[];
  /** How tall single lanes are, in pixels, by their keys, where a person had them taller, lower or folded. */
  readonly heights: { readonly [lane: string]: number };
  readonly hand: LaneHand;
  /** The points that are chosen, in one lane at a time. */
  readonly chosen: { readonly lane: string; readonly ids: ReadonlySet<number> };
}

const initialState: LanesState = {
  lanes: [],
  heights: {},
  hand: { tool: 'choose', ramps: true, ease: 0.5, keepTimes: false },
  chosen: { lane: '', ids: new Set() },
};

/** A folded lane shows its name alone. */
export const FOLDED = 22;
/** The lowest and the tallest that a lane is drawn. */
export const LANE_HEIGHTS: readonly [number, number] = [36, 320];

const slice = plainSlice({
  name: 'lanes',
  initialState,
  reducers: {
    laneTurned: (state, { payload }: PayloadAction<string>): LanesState => ({
      ...state,
      lanes: toggled(state.lanes, payload),
    }),
    lanesShown: (state, { payload }: PayloadAction<readonly string[]>): LanesState => ({ ...state, lanes: payload }),
    /** Has a lane as tall as this, in pixels; what is lower than the lowest is folded. */
    laneResized: (
      state,
      { payload: { lane, height } }: PayloadAction<{ readonly lane: string; readonly height: number }>,
    ): LanesState => {
      const [lowest, tallest] = LANE_HEIGHTS;
      const kept = height < (FOLDED + lowest) / 2 ? FOLDED : Math.max(lowest, Math.min(tallest, Math.round(height)));
      return { ...state, heights: { ...state.heights, [lane]: kept } };
    },
    /** All lanes are as tall as they would be by themselves. */
    heightsForgotten: (state): LanesState => ({ ...state, heights: {} }),
    handSet: (state, { payload }: PayloadAction<Partial<LaneHand>>): LanesState => ({
      ...state,
      hand: { ...state.hand, ...payload },
    }),
    pointsChosen: (state, { payload }: PayloadAction<LanesState['chosen']>): LanesState => ({
      ...state,
      chosen: payload,
    }),
  },
});

export const lanesActions = slice.actions;
export const lanesReducer = slice.reducer;
