/**
 * Ids of notes that the steps of a plan make: unique in the arrangement, the same from run to run, and made from the
 * Played note they come from. A made id is 2^52 + source × 2^25 + ordinal, which is exact in a double.
 */
import type { NoteId } from './ids.js';

const FIRST_MADE = 2 ** 52;
const ORDINALS = 2 ** 25;

/** Ids of Played notes stay below this, so that what is made from them can be told apart. */
export const FIRST_UNUSABLE_ID = 2 ** 27;

/** True for the id of a note that a step made inside a plan. */
export const isMadeId = (id: NoteId): boolean => id >= FIRST_MADE;

/** The Played note that an id stands for: itself, or the one that a made note comes from. */
export const sourceOfId = (id: NoteId): NoteId => (isMadeId(id) ? Math.floor((id - FIRST_MADE) / ORDINALS) : id);

/** How many notes were made from each Played note so far. */
export type MadeCounts = ReadonlyMap<NoteId, number>;

/** Hands out made ids in the order in which they are asked for, going on from `before`. */
export const createMadeIds = (
  before: MadeCounts,
): { readonly newId: (source: NoteId) => NoteId; readonly counts: () => MadeCounts } => {
  let counts: Map<NoteId, number> | undefined;
  return {
    newId: (source) => {
      const root = sourceOfId(source);
      counts ??= new Map(before);
      const ordinal = (counts.get(root) ?? 0) + 1;
      if (ordinal >= ORDINALS || root >= FIRST_UNUSABLE_ID) throw new RangeError('too many notes made from one');
      counts.set(root, ordinal);
      return FIRST_MADE + root * ORDINALS + ordinal;
    },
    counts: () => counts ?? before,
  };
};
