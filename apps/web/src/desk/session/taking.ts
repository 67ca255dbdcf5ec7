/** A take that is being played in; places in ticks. */
import type { PartId } from '@crispfold/core';
import type { Moment } from './sound/player.js';
import type { TakeRecorder } from './takeRecorder.js';

/** See the file's head. */
export interface Taking {
  readonly partId: PartId;
  readonly from: number;
  readonly until: number | null;
  readonly recorder: TakeRecorder;
  /** Ends listening for the end. */
  readonly leave: () => void;
  /** Where the music is just now. */
  readonly last: { at: Moment | null };
}
