/** What the reading of a take was not sure of. */
import type { NoteId } from '../model/arrangement.js';

/** Something a step noticed on its way that a person should look at. */
export interface Remark {
  readonly kind: 'farOff' | 'eitherWay' | 'doubtfulGrid' | 'wideRoll' | 'rolled' | 'swing';
  readonly noteIds: readonly NoteId[];
  readonly reason: string;
  /** Where a start that could have gone either way would have gone else, in the context's ticks. */
  readonly otherLine?: number;
}
