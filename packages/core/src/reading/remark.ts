/** What the reading of a take was not sure of. */
import type { NoteId } from '../model/arrangement.js';
import type { Swing } from '../model/swing.js';

/** Something a step noticed on its way that a person should look at. */
export interface Remark {
  readonly kind: 'farOff' | 'eitherWay' | 'doubtfulGrid' | 'eitherEnd' | 'wideRoll' | 'rolled' | 'swing' | 'swung';
  readonly noteIds: readonly NoteId[];
  readonly reason: string;
  /** The second best reading: what would stand elsewhere. */
  readonly others?: readonly OtherPlace[];
  /** How the notes are swung that are written even, and from where on pairs are even again (a tick), if they are. */
  readonly swing?: Swing & { readonly evenFrom?: number };
}

/** Where a note would begin, or end, in another reading; ticks of the context. */
export interface OtherPlace {
  readonly noteId: NoteId;
  readonly start?: number;
  readonly end?: number;
}
