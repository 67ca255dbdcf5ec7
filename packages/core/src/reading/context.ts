/** What the reading of a take, and the steps, may know besides the notes. */
import type { Instrument } from '../instruments/instruments.js';
import type { NoteId, PartEvent, PartId } from '../model/arrangement.js';
import type { PercussionMap } from '../model/percussionMap.js';
import type { SwungPassage } from '../model/swing.js';
import type { Bar, MeterMap } from '../time/meterMap.js';
import type { TempoMap } from '../time/tempoMap.js';
import type { StepNote } from './stepNote.js';

/** Where a note of another part begins, and how loud. */
export interface Strike {
  readonly onset: number;
  readonly velocity: number;
}

/** Another part, as the steps of one see it: as it was played. */
export interface OtherPart {
  readonly name: string;
  readonly instrument: Instrument;
  readonly notes: readonly StepNote[];
}

/** What a step may know besides the notes. */
export interface StepContext {
  readonly ppq: number;
  readonly tempoMap: TempoMap;
  readonly meterMap: MeterMap;
  /** Bars that cover the whole piece, in order. */
  readonly bars: readonly Bar[];
  readonly events: readonly PartEvent[];
  readonly instrument: Instrument;
  /** What the part says of its percussion sounds. */
  readonly percussion: PercussionMap;
  /** Sharps (positive) or flats of the piece, for steps of the key. */
  readonly fifths: number;
  /** An id that no other note of the arrangement has, for a note made from the one named. */
  readonly newId: (source: NoteId) => NoteId;
  /** Starts of another part, rising, in the context's ticks; none for a part that is not there. */
  readonly strikesOf: (partId: PartId) => readonly Strike[];
  /** Where the parts of the arrangement swing together; null where they do not, or nobody asked. */
  readonly swing: SwungPassage | null;
  /** The parts that stand before this one, their notes in the context's ticks. */
  readonly earlierParts: () => readonly OtherPart[];
  /** All parts but this one, their notes in the context's ticks: the same lists as long as the notes are the same. */
  readonly otherParts: () => readonly OtherPart[];
}
