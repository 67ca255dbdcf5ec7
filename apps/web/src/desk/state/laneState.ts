import { createValueStore } from '../../ui/valueStore.js';

/** See the file's head. */
export interface LaneHand {
  readonly tool: LaneTool;
  /** New points ramp to the next. */
  readonly ramps: boolean;
  /** Of curves, from -1 to 1. */
  readonly ease: number;
  /** A change of tempo moves the bars under the notes, which keep their time; otherwise notes keep their bars. */
  readonly keepTimes: boolean;
}

export const laneHand = createValueStore<LaneHand>({ tool: 'choose', ramps: true, ease: 0.5, keepTimes: false });

/** How tall single lanes are, in pixels, by their keys, where a person had them taller, lower or folded. */
export const laneHeights = createValueStore<{ readonly [lane: string]: number }>({});

/** A folded lane shows its name alone. */
export const FOLDED = 22;
/** The lowest and the tallest that a lane is drawn. */
export const LANE_HEIGHTS: readonly [number, number] = [36, 320];

/** Has a lane as tall as this; what is lower than the lowest is folded. */
export const laneResized = (lane: string, height: number): void => {
  const [lowest, tallest] = LANE_HEIGHTS;
  const kept = height < (FOLDED + lowest) / 2 ? FOLDED : Math.max(lowest, Math.min(tallest, Math.round(height)));
  laneHeights.set({ ...laneHeights.get(), [lane]: kept });
};

/** The points that are chosen, in one lane at a time. */
export interface LaneChosen {
  readonly lane: string;
  readonly ids: ReadonlySet<number>;
}

export const laneChosen = createValueStore<LaneChosen>({ lane: '', ids: new Set() });

/** Choosing points, or drawing them freely, along a straight line, or along a curve. */
export const LANE_TOOLS = ['choose', 'free', 'line', 'curve'] as const;

/** One of them. */
export type LaneTool = (typeof LANE_TOOLS)[number];
