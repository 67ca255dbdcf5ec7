/** What the reading of a take was not sure of. */
import type { NoteId } from '../model/arrangement.js';

/** Something a step noticed on its way that a person should look at. */
export interface Remark {
  readonly kind: 'farOff' | 'eitherWay' | 'doubtfulGrid' | 'eitherEnd' | 'wideRoll' | 'rolled' | 'swing';
  readonly noteIds: readonly NoteId[];
  readonly reason: string;
  /** The second best reading: what would stand elsewhere. */
  readonly others?: readonly OtherPlace[];
}

/** Where a note would begin, or end, in another reading; ticks of the context. */
export interface OtherPlace {
  readonly noteId: NoteId;
  readonly start?: number;
  readonly end?: number;
}
