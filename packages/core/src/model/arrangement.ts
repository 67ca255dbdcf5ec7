/** The records of an arrangement: plain, immutable data. */

import type { MeterChange } from '../time/meterMap.js';
import type { TempoChange } from '../time/tempoMap.js';
import type { Ticks } from '../time/units.js';
import type { EventId, NoteId, PartId } from './ids.js';
import type { Overrides } from './overrides.js';
import type { PercussionMap } from './percussionMap.js';
import type { Plan, Veto } from './plan.js';

export type { EventId, NoteId, PartId };

/** A note as played. Pitch 0 to 127 (60 is middle C), velocity 1 to 127, duration 0 or more. */
export interface Note {
  readonly id: NoteId;
  readonly pitch: number;
  readonly onset: Ticks;
  readonly duration: Ticks;
  readonly velocity: number;
  /** MIDI channel, 0 to 15. */
  readonly channel: number;
  /** Velocity of the note-off, 0 to 127; left out where it was 64 or a note-on of velocity 0. */
  readonly releaseVelocity?: number;
  /** True where the person silenced the note: kept, not heard, not written. */
  readonly muted?: boolean;
}

/** How a value goes to the next of its kind: it ramps there with an ease (from -1 to 1, 0 is straight); else it holds. */
type Ramps = { readonly ramp?: number };

/** Whatever else a track holds, in its order; `tick` from the start of the piece. */
export type TrackEvent = { readonly tick: Ticks } & (
  | ({
      readonly kind: 'controller';
      readonly channel: number;
      readonly controller: number;
      readonly value: number;
    } & Ramps)
  | { readonly kind: 'program'; readonly channel: number; readonly program: number }
  | ({
      readonly kind: 'pitchBend';
      readonly channel: number /** 0 to 16383, 8192 is the centre. */;
      readonly value: number;
    } & Ramps)
  | ({ readonly kind: 'channelPressure'; readonly channel: number; readonly value: number } & Ramps)
  | { readonly kind: 'keyPressure'; readonly channel: number; readonly pitch: number; readonly value: number }
  | { readonly kind: 'text' /** SMF meta type 1 to 15. */; readonly metaType: number; readonly text: string }
  | { readonly kind: 'meta'; readonly metaType: number; readonly data: readonly number[] }
  | {
      readonly kind: 'sysex' /** True for the continuation form (F7). */;
      readonly escape: boolean;
      readonly data: readonly number[];
    }
);

/** An event of a part, known by its id. */
export type PartEvent = TrackEvent & { readonly id: EventId };

/** The order of events in a part: tick, then id, which is the order they came in. */
export const compareEvents = (a: PartEvent, b: PartEvent): number => a.tick - b.tick || a.id - b.id;

/** Events with ids from `first` on, in the order given. */
export const withEventIds = (events: readonly TrackEvent[], first: EventId): PartEvent[] =>
  events.map((event, index) => ({ ...event, id: first + index }));

/** One instrument's part. Notes are in order of onset, then pitch, then id. */
export interface Part {
  readonly id: PartId;
  readonly name: string;
  /** The name of its track in the file, where it said nothing ("Track 3") and another stands in. */
  readonly trackName?: string | undefined;
  /** Key into the instrument table. */
  readonly instrument: string;
  /** What told the instrument when the file came in; left out once a person chose it. */
  readonly instrumentFrom?: 'program' | 'name' | 'channel' | 'nothing' | undefined;
  readonly channel: number;
  readonly program: number | null;
  readonly notes: readonly Note[];
  /** In order of tick, then id. */
  readonly events: readonly PartEvent[];
  /** How its sounds are written, where it is percussion and the person says otherwise than General MIDI. */
  readonly percussionMap?: PercussionMap | undefined;
  /** The plan chosen for it; where left out, the ready plan that its content asks for. */
  readonly plan?: Plan | undefined;
  /** Notes that single steps leave alone. */
  readonly vetoes?: readonly Veto[] | undefined;
  /** Findings that the person dismissed, by their keys. */
  readonly dismissed?: readonly string[] | undefined;
  /** What the person corrected on the page. */
  readonly overrides?: Overrides | undefined;
}

/** A key signature: sharps (positive) or flats (negative), -7 to 7. */
export interface KeyChange {
  readonly tick: Ticks;
  readonly fifths: number;
  readonly minor: boolean;
}

/** A named place. */
export interface Marker {
  readonly tick: Ticks;
  readonly text: string;
}

/** A selection under its name. */
export interface NamedSelection {
  readonly name: string;
  readonly parts: readonly { readonly partId: PartId; readonly noteIds: readonly NoteId[] }[];
}

/** A recording that is heard beside the notes; its file is kept by the server, under its id. */
export interface Recording {
  readonly id: string;
  readonly name: string;
  /** How long it lasts. */
  readonly seconds: number;
  /** When it begins, in seconds from tick 0; below 0 it began before the piece. */
  readonly offset: number;
  /** Loudness, 0 to 1. */
  readonly level: number;
  readonly muted?: boolean;
}

/** A track with no notes, kept to be written back. */
export interface SilentTrack {
  readonly name: string;
  readonly events: readonly TrackEvent[];
}

/** Everything a person works on: Played parts with the plans that make Written, and the maps they share. */
export interface Arrangement {
  readonly title: string;
  readonly ppq: number;
  readonly tempos: readonly TempoChange[];
  readonly meters: readonly MeterChange[];
  readonly keys: readonly KeyChange[];
  readonly markers: readonly Marker[];
  readonly parts: readonly Part[];
  readonly silentTracks: readonly SilentTrack[];
  /** Selections under names, in the order they were kept. */
  readonly namedSelections?: readonly NamedSelection[] | undefined;
  /** The recording beside the notes, where there is one. */
  readonly recording?: Recording | null | undefined;
  readonly nextNoteId: NoteId;
  readonly nextPartId: PartId;
  readonly nextEventId: EventId;
}

/** The order of notes in a part, played or written: onset, pitch, id. */
export const compareNotes = (a: PlacedNote, b: PlacedNote): number =>
  a.onset - b.onset || a.pitch - b.pitch || a.id - b.id;

/** What says where a note stands. */
export interface PlacedNote {
  readonly id: NoteId;
  readonly pitch: number;
  readonly onset: number;
}

/** End of a note, in ticks. */
export const endOf = (note: Pick<Note, 'onset' | 'duration'>): Ticks => (note.onset + note.duration) as Ticks;

/** An edit changes one list of notes: those of the other parts need not be looked through again. */
const lastEnds = new WeakMap<readonly Note[], number>();

const lastEndOf = (notes: readonly Note[]): number => {
  let last = lastEnds.get(notes);
  if (last === undefined) {
    last = 0;
    for (const note of notes) {
      const end = note.onset + note.duration;
      if (end > last) last = end;
    }
    lastEnds.set(notes, last);
  }
  return last;
};

/** The last tick at which any note sounds; 0 where there are none. */
export const lastTick = (parts: readonly Pick<Part, 'notes'>[]): number => {
  let last = 0;
  for (const { notes } of parts) last = Math.max(last, lastEndOf(notes));
  return last;
};

/** The part with this id, or undefined. */
export const partById = (arrangement: Arrangement, id: PartId): Part | undefined =>
  arrangement.parts.find((part) => part.id === id);
