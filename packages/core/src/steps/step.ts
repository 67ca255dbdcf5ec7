/** What a clean-up step is: a pure function over the notes of one part, with a reason for each change. */
import type { Instrument } from '../instruments/instruments.js';
import type { Note, NoteId, TrackEvent } from '../model/arrangement.js';
import type { Bar, MeterMap } from '../time/meterMap.js';
import type { TempoMap } from '../time/tempoMap.js';
import { ticks } from '../time/units.js';

/** The staff of a hand: 1 is the right hand's, 2 the left's. */
export type Staff = 1 | 2;

/** A note on its way through the steps; positions in ticks of the context's PPQ. */
export interface StepNote extends Note {
  /** Voice on its staff, from 1, the uppermost first; set by Separate voices. */
  readonly voice?: number;
  /** Staff of a part with two: 1 is the upper; set by Separate voices. */
  readonly staff?: Staff;
  /** Where the sound ends that the pedal holds, past the key's own end; set by Sustain to durations. */
  readonly soundsTo?: number;
  /** Set by Settle lengths: played clearly shorter than it is written. */
  readonly staccato?: boolean;
  /** Set by Settle lengths: the length is the written one. */
  readonly settled?: boolean;
}

/** What a step may know besides the notes. */
export interface StepContext {
  readonly ppq: number;
  readonly tempoMap: TempoMap;
  readonly meterMap: MeterMap;
  /** Bars that cover the whole piece, in order. */
  readonly bars: readonly Bar[];
  readonly events: readonly TrackEvent[];
  readonly instrument: Instrument;
}

/** One change to one note. `to` is null where the note was taken out; `into` then names the note that took its place, if any. */
export interface StepChange {
  readonly noteId: NoteId;
  readonly from: StepNote;
  readonly to: StepNote | null;
  readonly into?: NoteId;
  /** Why, in words: "starts 11 ms after a longer C4". */
  readonly reason: string;
}

/** Notes after a step, in order, and what it did. A step with nothing to do returns its input and no changes. */
export interface StepResult {
  readonly notes: readonly StepNote[];
  readonly changes: readonly StepChange[];
}

/** A parameter a person can set, in plain words. */
export type ParameterField<Value> =
  | {
      readonly kind: 'choice';
      readonly label: string;
      readonly choices: readonly { readonly value: Value; readonly label: string }[];
    }
  | { readonly kind: 'length'; readonly label: string }
  | {
      readonly kind: 'number';
      readonly label: string;
      readonly min: number;
      readonly max: number;
      readonly unit: string;
    }
  | { readonly kind: 'switch'; readonly label: string };

/** A step with its name, its parameters and their defaults. */
export interface Step<Parameters extends object> {
  readonly id: string;
  /** A verb, as on the screen. */
  readonly name: string;
  /** What it acts on and what it leaves alone. */
  readonly explanation: string;
  readonly defaults: Parameters;
  readonly run: (notes: readonly StepNote[], context: StepContext, parameters: Parameters) => StepResult;
}

/**
 * The note at another place. Fields are named one by one so that all notes on their way through a plan have one shape:
 * copying them with a spread took half of the plan's time.
 */
export const placed = (
  note: StepNote,
  onset: number,
  duration: number,
  more: Partial<Pick<StepNote, 'voice' | 'staff' | 'soundsTo' | 'staccato' | 'settled'>> = note,
): StepNote => ({
  id: note.id,
  pitch: note.pitch,
  onset: ticks(onset),
  duration: ticks(duration),
  velocity: note.velocity,
  channel: note.channel,
  releaseVelocity: note.releaseVelocity,
  muted: note.muted,
  voice: more.voice ?? note.voice,
  staff: more.staff ?? note.staff,
  soundsTo: more.soundsTo ?? note.soundsTo,
  staccato: more.staccato ?? note.staccato,
  settled: more.settled ?? note.settled,
});

/** A ready-made "nothing to do". */
export const unchanged = (notes: readonly StepNote[]): StepResult => ({ notes, changes: [] });
