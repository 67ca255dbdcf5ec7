import { type Forward, isForward } from '../state/forward.js';
import type { RollPart } from './layers.js';
import { createNoteIndex } from './noteIndex.js';

const heldCache = new WeakMap<
  RollPart,
  { readonly ids: ReadonlySet<number> | undefined; readonly forward: Forward; readonly held: RollPart }
>();

/** What of a part can be picked while a voice or staff is brought forward: `ids` are its Played notes. */
export const heldPart = (part: RollPart, forward: Forward, ids: ReadonlySet<number> | undefined): RollPart => {
  const known = heldCache.get(part);
  if (known && known.ids === ids && known.forward === forward) return known.held;
  const facts = part.facts();
  const held: RollPart = {
    ...part,
    played: createNoteIndex(part.played.notes.filter(({ id }) => ids?.has(id))),
    written: createNoteIndex(
      part.written.notes.filter(({ id }) => {
        const at = facts.get(id);
        return at !== undefined && isForward(forward, at);
      }),
    ),
  };
  heldCache.set(part, { ids, forward, held });
  return held;
};
