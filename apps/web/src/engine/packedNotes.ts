/**
 * Notes as one block of numbers, for the way between the worker and the screens: copying a record for each note takes as
 * long as making them.
 */
import { type Note, ticks, type WrittenNote, type WrittenUnits } from '@crispfold/core';

/** Played notes packed: id, pitch, onset, duration, velocity, channel, release velocity (-1 for none), muted. */
export type PackedPlayed = Float64Array<ArrayBuffer>;

const PLAYED_FIELDS = 8;

/** Packs Played notes. */
export const packPlayed = (notes: readonly Note[]): PackedPlayed => {
  const numbers = new Float64Array(notes.length * PLAYED_FIELDS);
  let at = 0;
  for (const { id, pitch, onset, duration, velocity, channel, releaseVelocity = -1, muted } of notes) {
    numbers[at] = id;
    numbers[at + 1] = pitch;
    numbers[at + 2] = onset;
    numbers[at + 3] = duration;
    numbers[at + 4] = velocity;
    numbers[at + 5] = channel;
    numbers[at + 6] = releaseVelocity;
    numbers[at + 7] = Number(muted ?? false);
    at += PLAYED_FIELDS;
  }
  return numbers;
};

/** The Played notes as they were packed; a note that is not muted does not say so. */
export const unpackPlayed = (numbers: PackedPlayed): Note[] =>
  Array.from({ length: numbers.length / PLAYED_FIELDS }, (_, index): Note => {
    const at = index * PLAYED_FIELDS;
    const note = {
      id: numbers[at] as number,
      pitch: numbers[at + 1] as number,
      onset: ticks(numbers[at + 2] as number),
      duration: ticks(numbers[at + 3] as number),
      velocity: numbers[at + 4] as number,
      channel: numbers[at + 5] as number,
    };
    const releaseVelocity = numbers[at + 6] as number;
    if (releaseVelocity < 0 && numbers[at + 7] === 0) return note;
    return {
      ...note,
      ...(releaseVelocity < 0 ? {} : { releaseVelocity }),
      ...(numbers[at + 7] === 0 ? {} : { muted: true }),
    };
  });

/** Written notes packed; the block can be handed over instead of copied. */
export interface PackedNotes {
  readonly numbers: Float64Array<ArrayBuffer>;
  /** Played notes of those that came from several, or from another: index of the note, then their ids. */
  readonly sources: readonly (readonly [index: number, ids: WrittenNote['sources']])[];
  /** Signs of those that have some. */
  readonly signs: readonly (readonly [index: number, signs: NonNullable<WrittenNote['signs']>])[];
}

/** Numbers a note: id, pitch, onset, duration, velocity, channel, staccato, voice, staff, rolled. */
const FIELDS = 10;

/** Packs Written notes. Ids that a plan's steps make are beyond 32 bits. */
export const packNotes = (notes: readonly WrittenNote[]): PackedNotes => {
  const numbers = new Float64Array(notes.length * FIELDS);
  const sources: [number, WrittenNote['sources']][] = [];
  const signs: [number, NonNullable<WrittenNote['signs']>][] = [];
  notes.forEach((note, index) => {
    const { id, pitch, onset, duration, velocity, channel, staccato, voice, staff, rolled = false } = note;
    const flags = [Number(staccato), voice, staff, Number(rolled)];
    numbers.set([id, pitch, onset, duration, velocity, channel, ...flags], index * FIELDS);
    if (note.sources.length !== 1 || note.sources[0] !== id) sources.push([index, note.sources]);
    if (note.signs) signs.push([index, note.signs]);
  });
  return { numbers, sources, signs };
};

/** The Written notes as they were packed. */
export const unpackNotes = ({ numbers, sources, signs }: PackedNotes): WrittenNote[] => {
  const others = new Map(sources);
  const signed = new Map(signs);
  return Array.from({ length: numbers.length / FIELDS }, (_, index) => {
    const at = index * FIELDS;
    const number = (field: number): number => numbers[at + field] as number;
    const id = number(0);
    const own = signed.get(index);
    return {
      id,
      sources: others.get(index) ?? [id],
      pitch: number(1),
      onset: number(2) as WrittenUnits,
      duration: number(3) as WrittenUnits,
      velocity: number(4),
      channel: number(5),
      staccato: number(6) === 1,
      voice: number(7),
      staff: number(8) === 2 ? 2 : 1,
      ...(own ? { signs: own } : {}),
      ...(number(9) === 1 ? { rolled: true as const } : {}),
    };
  });
};
