/**
 * Where the other parts of an arrangement begin: parts that play together are evidence for each other's places. Each part is
 * read by itself first, with a lean and a spread of its own; starts are not pooled, for what one player plays late another
 * plays early.
 */
import { attacksOf, rollsOf } from './attacks.js';
import type { StepContext } from './context.js';
import type { Attack } from './gridModel.js';
import { byOnset } from './noteGroups.js';
import type { StepNote } from './stepNote.js';

/** Where other parts begin, each by itself and together. */
export interface CommonPlaces {
  /** The places of each: the same set as long as its notes are the same. */
  readonly parts: readonly ReadonlySet<number>[];
  /** How many of them begin at a place; ticks. */
  readonly partsAt: (tick: number) => number;
}

/** Where each attack of a part is written, read by itself; ticks. */
export type ReadAlone = (attacks: readonly Attack[], context: StepContext) => ArrayLike<number>;

interface Places {
  readonly bars: StepContext['bars'];
  readonly instrument: StepContext['instrument'];
  readonly at: ReadonlySet<number>;
}

/** Places of a part, by its notes. */
const found = new WeakMap<readonly StepNote[], Places>();

const placesOf = (notes: readonly StepNote[], context: StepContext, read: ReadAlone): ReadonlySet<number> => {
  const { bars, instrument } = context;
  const known = found.get(notes);
  if (known?.bars === bars && known.instrument === instrument) return known.at;
  const rolls = rollsOf(byOnset(notes), context);
  const targets = read(attacksOf(rolls, context), context);
  const at = new Set<number>();
  for (let index = 0; index < rolls.length; index += 1) at.add(Math.round(targets[index] as number));
  found.set(notes, { bars, instrument, at });
  return at;
};

/** Where the other parts begin, in the context's ticks; null where there is none. */
export const commonPlaces = (context: StepContext, read: ReadAlone): CommonPlaces | null => {
  const sounding = context.otherParts().filter(({ notes }) => notes.length > 0);
  if (sounding.length === 0) return null;
  const parts = sounding.map(({ notes, instrument }) => placesOf(notes, { ...context, instrument }, read));
  let counts: Map<number, number> | undefined;
  return {
    parts,
    partsAt: (tick) => {
      if (!counts) {
        counts = new Map();
        for (const places of parts) for (const place of places) counts.set(place, (counts.get(place) ?? 0) + 1);
      }
      return counts.get(Math.round(tick)) ?? 0;
    },
  };
};

const sameSet = (one: ReadonlySet<number>, other: ReadonlySet<number> | undefined): boolean => {
  if (one === other) return true;
  if (one.size !== other?.size) return false;
  for (const place of one) if (!other.has(place)) return false;
  return true;
};

/** True where the same parts begin at the same places, though their notes may have changed otherwise. */
export const sameCommon = (one: CommonPlaces | null, other: CommonPlaces | null): boolean =>
  one === other ||
  (one !== null &&
    one.parts.length === other?.parts.length &&
    one.parts.every((places, index) => sameSet(places, other.parts[index])));
