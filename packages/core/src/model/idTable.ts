import type { NoteId } from './arrangement.js';

/** What is known of notes by their ids; as a Map, as far as it goes. */
export interface IdTable<Value> {
  readonly get: (id: NoteId) => Value | undefined;
  readonly set: (id: NoteId, value: Value) => void;
  /** Of how many notes something is known. */
  readonly size: () => number;
}

/** Ids that are spread wider than so many times their count are kept in a Map. */
const SPREAD = 8;

/**
 * A table for the notes of some records. The ids of a part lie close together, but for those that steps made: a plain list by id
 * takes a third of a Map's time, and a plan looks up every note a few times.
 */
export const createIdTable = <Value>(records: readonly { readonly noteId: NoteId }[]): IdTable<Value> => {
  let [lowest, highest] = [Number.POSITIVE_INFINITY, -1];
  for (const { noteId } of records) {
    if (noteId < lowest) lowest = noteId;
    if (noteId > highest) highest = noteId;
  }
  if (highest - lowest > SPREAD * records.length) {
    const known = new Map<NoteId, Value>();
    return { get: (id) => known.get(id), set: (id, value) => void known.set(id, value), size: () => known.size };
  }
  const known: (Value | undefined)[] = highest < 0 ? [] : new Array(highest - lowest + 1).fill(undefined);
  let size = 0;
  return {
    get: (id) => (id >= lowest && id <= highest ? known[id - lowest] : undefined),
    set: (id, value) => {
      if (known[id - lowest] === undefined) size += 1;
      known[id - lowest] = value;
    },
    size: () => size,
  };
};
