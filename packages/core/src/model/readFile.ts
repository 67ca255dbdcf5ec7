/** What was read of a file, whatever its kind: tracks of notes without ids, and the maps they share. */

import type { MeterChange } from '../time/meterMap.js';
import type { TempoChange } from '../time/tempoMap.js';
import type { KeyChange, Marker, Note, TrackEvent } from './arrangement.js';
import type { Problem } from './result.js';

/** A note of a track that has no id yet. */
export type UnnumberedNote = Omit<Note, 'id'>;

/** One track as read; notes in order of onset. */
export interface MidiTrack {
  readonly name: string;
  readonly notes: readonly UnnumberedNote[];
  readonly events: readonly TrackEvent[];
}

/** What a file holds. */
export interface MidiFile {
  readonly format: number;
  readonly ppq: number;
  readonly tempos: readonly TempoChange[];
  readonly meters: readonly MeterChange[];
  readonly keys: readonly KeyChange[];
  readonly markers: readonly Marker[];
  readonly tracks: readonly MidiTrack[];
  readonly warnings: readonly Problem[];
}
