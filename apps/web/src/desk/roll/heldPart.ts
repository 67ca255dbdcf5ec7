/** What of a part can be picked while one voice or staff is brought forward. */
import { perObject } from '../../ui/perObject.js';
import { type Forward, isForward } from '../state/forward.js';
import type { RollPart } from './layers.js';
import { createNoteIndex } from './noteIndex.js';

/** What of a part can be picked while a voice or staff is brought forward: `ids` are its Played notes. */
export const heldPart = perObject(
  (part: RollPart, forward: Forward, ids: ReadonlySet<number> | undefined): RollPart => {
    const facts = part.facts();
    return {
      ...part,
      played: createNoteIndex(part.played.notes.filter(({ id }) => ids?.has(id))),
      written: createNoteIndex(
        part.written.notes.filter(({ id }) => {
          const at = facts.get(id);
          return at !== undefined && isForward(forward, at);
        }),
      ),
    };
  },
);
