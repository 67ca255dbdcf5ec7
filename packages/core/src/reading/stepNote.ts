/** A note on its way through the clean-up steps, and the few ways of making one from another. */
import type { Note, NoteId } from '../model/arrangement.js';
import type { NoteSigns } from '../model/noteSigns.js';
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
  /** Set by Sustain to durations: the length is the pedal's, and how long the key was down is not known any more. */
  readonly lengthened?: boolean;
  /** Set by Settle lengths: played clearly shorter than it is written. */
  readonly staccato?: boolean;
  /** Set by Settle lengths: the length is the written one. */
  readonly settled?: boolean;
  /** Signs that were read from how it was played; set by Read ornaments and Read dynamics. */
  readonly signs?: NoteSigns;
  /** The note that a step made this one from. */
  readonly madeFrom?: NoteId;
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
  lengthened: boolean | undefined = note.lengthened,
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
    lengthened,
  };
  // Few notes have these, and what all have is copied at each step.
  if (note.releaseVelocity !== undefined) made.releaseVelocity = note.releaseVelocity;
  if (note.signs !== undefined) made.signs = note.signs;
  if (note.muted !== undefined) made.muted = note.muted;
  if (note.madeFrom !== undefined) made.madeFrom = note.madeFrom;
  return made;
};

/** The note at another place, or as loud as given. */
export const placed = (note: StepNote, onset: number, duration: number, velocity = note.velocity): StepNote =>
  remade(note, onset, duration, velocity, note.voice, note.staff, note.soundsTo, note.staccato, note.settled);

/** The note with more signs than it had. */
export const signed = (note: StepNote, signs: NoteSigns): StepNote => ({
  ...placed(note, note.onset, note.duration),
  signs: { ...note.signs, ...signs, marks: [...(note.signs?.marks ?? []), ...(signs.marks ?? [])] },
});

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
  remade(
    note,
    note.onset,
    duration,
    note.velocity,
    note.voice,
    note.staff,
    soundsTo,
    note.staccato,
    note.settled,
    duration > note.duration ? true : note.lengthened,
  );

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
