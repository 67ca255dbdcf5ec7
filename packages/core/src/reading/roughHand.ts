/** What an unsteady hand makes of notes that follow each other: they come so near that they look like something else. */
import { endOf } from '../model/arrangement.js';
import { attacksOf, headOf } from './attacks.js';
import { isRoughHand } from './autoGrid.js';
import type { StepContext } from './context.js';
import { byOnset } from './noteGroups.js';
import type { StepNote } from './stepNote.js';

const found = new WeakMap<
  readonly StepNote[],
  { readonly bars: StepContext['bars']; readonly instrument: StepContext['instrument']; readonly rough: boolean }
>();

/** True where notes (in order of onset) are played by an unsteady hand; found once for a list. */
export const playedRoughly = (notes: readonly StepNote[], context: StepContext): boolean => {
  const { bars, instrument } = context;
  const known = found.get(notes);
  if (known?.bars === bars && known.instrument === instrument) return known.rough;
  const strokes = byOnset(notes).map((group) => [group]);
  const rough = isRoughHand(attacksOf(strokes, context), context);
  found.set(notes, { bars, instrument, rough });
  return rough;
};

/** A stroke is no softer than this share of the one beside it. */
const AS_LOUD = 0.65;
/** A key that bounces is down again sooner (milliseconds). */
const BOUNCE = 12;
/** A file rounds: the key came up no later than so long after it went down again (milliseconds). */
const RUNS_INTO = 4;

/** True where a key came up, and went down again as hard: two strokes, however near. Judged by the lines of 40 to 60 ms. */
export const isStruckAgain = (first: StepNote, second: StepNote, { tempoMap }: StepContext): boolean => {
  const perMs = tempoMap.ticksPerMillisecond(first.onset);
  return (
    endOf(first) <= second.onset + RUNS_INTO * perMs &&
    second.onset - first.onset >= BOUNCE * perMs &&
    first.velocity >= AS_LOUD * second.velocity &&
    second.velocity >= AS_LOUD * first.velocity
  );
};

/** A key that was down for at least so much of the way to the next start, and not much longer, was held until then. */
const HELD = { least: 0.76, most: 1.3 } as const;
/** Targets that lie so many times as far apart change what a length tells. */
const FURTHER = 1.3;

/**
 * How long notes (in groups with a start each) are that were held until the next start, where their targets lie further
 * apart than they were played: what came late was not meant to be short.
 */
export const heldToNext = (
  rolls: readonly StepNote[][][],
  targets: ArrayLike<number>,
): ReadonlyMap<StepNote, number> => {
  const lengths = new Map<StepNote, number>();
  for (let index = 0; index + 1 < rolls.length; index += 1) {
    const [roll, next] = [rolls[index] as StepNote[][], rolls[index + 1] as StepNote[][]];
    // What is rolled begins when its hand likes.
    if (roll.length > 1 || next.length > 1) continue;
    const way = headOf(next, 0).onset - headOf(roll, 0).onset;
    const slot = (targets[index + 1] as number) - (targets[index] as number);
    if (way <= 0 || slot <= FURTHER * way) continue;
    for (const note of roll.flat()) {
      const share = note.duration / way;
      if (share >= HELD.least && share <= HELD.most) lengths.set(note, Math.round(share * slot));
    }
  }
  return lengths;
};
