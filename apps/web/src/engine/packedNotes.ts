/**
 * Written notes as one block of numbers, for the way from the worker to the screens: copying a record for each note takes
 * as long as making them.
 */
import type { WrittenNote, WrittenUnits } from '@crispfold/core';

/** Notes packed; the block can be handed over instead of copied. */
export interface PackedNotes {
  readonly numbers: Float64Array<ArrayBuffer>;
  /** Played notes of those that came from several, or from another: index of the note, then their ids. */
  readonly sources: readonly (readonly [index: number, ids: WrittenNote['sources']])[];
}

/** Numbers a note: id, pitch, onset, duration, velocity, channel, staccato, voice, staff. */
const FIELDS = 9;

/** Packs notes. Ids that a plan's steps make are beyond 32 bits. */
export const packNotes = (notes: readonly WrittenNote[]): PackedNotes => {
  const numbers = new Float64Array(notes.length * FIELDS);
  const sources: [number, WrittenNote['sources']][] = [];
  notes.forEach((note, index) => {
    const { id, pitch, onset, duration, velocity, channel, staccato, voice, staff } = note;
    numbers.set([id, pitch, onset, duration, velocity, channel, Number(staccato), voice, staff], index * FIELDS);
    if (note.sources.length !== 1 || note.sources[0] !== id) sources.push([index, note.sources]);
  });
  return { numbers, sources };
};

/** The notes as they were packed. */
export const unpackNotes = ({ numbers, sources }: PackedNotes): WrittenNote[] => {
  const others = new Map(sources);
  return Array.from({ length: numbers.length / FIELDS }, (_, index) => {
    const at = index * FIELDS;
    const number = (field: number): number => numbers[at + field] as number;
    const id = number(0);
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
    };
  });
};
