/** How lanes are worked in: the tool, whether points hold or ramp, and which points are chosen. */
import { createValueStore } from '../../../ui/valueStore.js';
import type { LaneTool } from './strokes.js';

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

/** The points that are chosen, in one lane at a time. */
export interface LaneChosen {
  readonly lane: string;
  readonly ids: ReadonlySet<number>;
}

export const laneChosen = createValueStore<LaneChosen>({ lane: '', ids: new Set() });
