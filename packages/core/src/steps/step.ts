/** What a clean-up step is: a pure function over the notes of one part, with a reason for each change. */
import type { Instrument } from '../instruments/instruments.js';
import { compareNotes, type Note, type NoteId, type TrackEvent } from '../model/arrangement.js';
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
  /** The note that a step made this one from. */
  readonly madeFrom?: NoteId;
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
  /** Sharps (positive) or flats of the piece, for steps of the key; C major where left out. */
  readonly fifths?: number;
  /** Ids from here on are free for notes that a step makes. */
  readonly firstNewId?: number;
  /** Starts of another part, rising, in the context's ticks. */
  readonly onsetsOf?: (partId: number) => readonly number[];
  /** Notes of the parts that stand before this one, in the context's ticks. */
  readonly earlierParts?: () => readonly { readonly name: string; readonly notes: readonly StepNote[] }[];
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

/** Something a step noticed on its way that a person should look at. */
export interface Remark {
  readonly kind: 'farOff' | 'eitherWay' | 'doubtfulGrid' | 'wideRoll' | 'swing';
  readonly noteIds: readonly NoteId[];
  readonly reason: string;
}

/** Notes after a step, in order, and what it did. A step with nothing to do returns its input and no changes. */
export interface StepResult {
  readonly notes: readonly StepNote[];
  readonly changes: readonly StepChange[];
  /** Controllers whose work is now in the notes, so that Played no longer needs them. */
  readonly eventsUsed?: readonly TrackEvent[];
  readonly remarks?: readonly Remark[];
  /** What a person should know of the run as a whole: "2 notes stay: they would leave 0 to 127". */
  readonly notice?: string;
  /** Notes that the step was asked to choose instead of changing them: on a selection they become the selection. */
  readonly picked?: readonly NoteId[];
  /** On a selection: what else of the part starts at or after `from` moves by `by` ticks. */
  readonly follows?: { readonly from: number; readonly by: number };
}

/** A parameter a person can set, in plain words. Screens, plan files and their checks are made of these. */
export type ParameterField =
  | {
      readonly kind: 'choice';
      readonly label: string;
      readonly choices: readonly { readonly value: string | number; readonly label: string }[];
    }
  /** A {@link Length}; null says the label in `none`, where there is one. */
  | { readonly kind: 'length'; readonly label: string; readonly none?: string }
  /** Several lengths, of which the shortest counts. */
  | { readonly kind: 'lengths'; readonly label: string }
  | {
      readonly kind: 'number';
      readonly label: string;
      readonly min: number;
      readonly max: number;
      readonly unit?: string;
      /** Steps of the control; 1 where left out. */
      readonly step?: number;
      /** Null is allowed, and means this. */
      readonly none?: string;
      /** Set where the selected note's velocity can be taken. */
      readonly of?: 'velocity';
    }
  | { readonly kind: 'switch'; readonly label: string }
  /** Another part of the arrangement, by id; 0 is none. */
  | { readonly kind: 'part'; readonly label: string };

/** A step with its name, its parameters and their defaults. */
export interface Step<Parameters extends object> {
  readonly id: string;
  /** A verb, as on the screen. */
  readonly name: string;
  /** What it acts on and what it leaves alone. */
  readonly explanation: string;
  readonly defaults: Parameters;
  readonly fields: { readonly [Key in keyof Parameters]: ParameterField };
  /** True where running it twice with its defaults changes nothing the second time. */
  readonly once: boolean;
  /**
   * On a selection: "selected" runs it on the selected notes alone; "part" lets it see their neighbours too, and changes
   * only those selected.
   */
  readonly sees: 'selected' | 'part';
  readonly run: (notes: readonly StepNote[], context: StepContext, parameters: Parameters) => StepResult;
}

/** Whole numbers that fit a machine word are kept as such: a fraction's storage would cost every note a box. */
const WORD = 2 ** 31 - 1;
const whole = (value: number): number => (value >= 0 && value <= WORD && value === (value | 0) ? value | 0 : value);

/**
 * A note like another but for what is given. Fields are named one by one, in one place, so that all notes on their way
 * through a plan have one shape: copying them with a spread took half of the plan's time.
 */
const remade = (
  note: StepNote,
  onset: number,
  duration: number,
  velocity: number,
  voice: number | undefined,
  staff: Staff | undefined,
  soundsTo: number | undefined,
  staccato: boolean | undefined,
  settled: boolean | undefined,
): StepNote => {
  const made: { -readonly [Key in keyof StepNote]: StepNote[Key] } = {
    id: note.id,
    pitch: note.pitch,
    onset: ticks(whole(onset)),
    duration: ticks(whole(duration)),
    velocity,
    channel: note.channel,
    voice,
    staff,
    soundsTo,
    staccato,
    settled,
  };
  // Few notes have these, and what all have is copied at each step.
  if (note.releaseVelocity !== undefined) made.releaseVelocity = note.releaseVelocity;
  if (note.muted !== undefined) made.muted = note.muted;
  if (note.madeFrom !== undefined) made.madeFrom = note.madeFrom;
  return made;
};

/** The note at another place, or as loud as given. */
export const placed = (note: StepNote, onset: number, duration: number, velocity = note.velocity): StepNote =>
  remade(note, onset, duration, velocity, note.voice, note.staff, note.soundsTo, note.staccato, note.settled);

/** The note in a voice of a staff. */
export const voiced = (note: StepNote, voice: number, staff: Staff | undefined): StepNote =>
  remade(
    note,
    note.onset,
    note.duration,
    note.velocity,
    voice,
    staff ?? note.staff,
    note.soundsTo,
    note.staccato,
    note.settled,
  );

/** The note with a length, its sound held to `soundsTo` by a pedal. */
export const sustained = (note: StepNote, duration: number, soundsTo: number): StepNote =>
  remade(note, note.onset, duration, note.velocity, note.voice, note.staff, soundsTo, note.staccato, note.settled);

/** The note with its written length. */
export const settledAt = (note: StepNote, duration: number, staccato: boolean): StepNote =>
  remade(
    note,
    note.onset,
    duration,
    note.velocity,
    note.voice,
    note.staff,
    note.soundsTo,
    staccato || note.staccato,
    true,
  );

/** Runs a change over each note that is not muted: null leaves it alone; `to: null` takes it out. */
export const eachNote = (
  notes: readonly StepNote[],
  change: (note: StepNote) => { readonly to: StepNote | null; readonly reason: string } | null,
): StepResult => {
  const changes: StepChange[] = [];
  const result: StepNote[] = [];
  for (const note of notes) {
    const made = note.muted ? null : change(note);
    if (!made) {
      result.push(note);
      continue;
    }
    changes.push({ noteId: note.id, from: note, ...made });
    if (made.to) result.push(made.to);
  }
  return changes.length === 0 ? unchanged(notes) : { notes: result.sort(compareNotes), changes };
};

/** A ready-made "nothing to do". */
export const unchanged = (notes: readonly StepNote[]): StepResult => ({ notes, changes: [] });
