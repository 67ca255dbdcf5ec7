/**
 * Tenuto: a note held for all of its value where the notes about it are not (common practice: among staccato notes, and in a
 * line that is played detached). Where a whole part is played legato, or by an unsteady hand, nothing sticks out.
 */
import { median } from '../model/statistics.js';
import { type Sounds, sharesOf } from './staccato.js';

/** Sounding for such a share of its value a note is held out… */
const HELD = 0.88;
/** …among short ones for such a share already, since those sound for half at most. */
const HELD_AMONG_SHORT = 0.86;
/** A part is played detached where its notes sound for no more than this share of their values, in the middle… */
const DETACHED = 0.82;
/** …and a note is held out there that lasts longer than those by so much, and by so many deviations. */
const [LONGER_BY, DEVIATIONS] = [0.16, 3.2];
/** After less than this share of its value a note has a rest. */
const NO_REST = 0.5;
/** So many notes tell how a part is played. */
const ENOUGH = 12;
/** More in a row are a legato, which is a slur's. */
const MOST_IN_A_ROW = 2;

/** Which notes of a voice are held out; `short` has, for each, the share that its passage sounds for where that is short, else 0. */
export const heldOut = (notes: readonly Sounds[], short: readonly number[]): readonly boolean[] => {
  const shares = sharesOf(notes);
  const told: number[] = [];
  shares.forEach((share, index) => {
    if (share !== null && share >= NO_REST && !short[index]) told.push(share);
  });
  const usual = median(told) ?? 1;
  const deviation = 1.4826 * (median(told.map((share) => Math.abs(share - usual))) ?? 0);
  const detached = told.length >= ENOUGH && usual <= DETACHED;
  const least = detached ? Math.max(HELD, usual + LONGER_BY, usual + DEVIATIONS * deviation) : Number.POSITIVE_INFINITY;
  const isShort = (index: number) => (short[index] ?? 0) > 0;
  const full = (index: number) => (shares[index] ?? 0) >= HELD_AMONG_SHORT;
  const held: boolean[] = new Array(notes.length).fill(false);
  for (let first = 0; first < notes.length; ) {
    let end = first + 1;
    while (full(first) && end < notes.length && full(end)) end += 1;
    const among = isShort(first - 1) && isShort(end);
    const few = full(first) && end - first <= MOST_IN_A_ROW;
    for (let index = first; few && index < end; index += 1)
      held[index] = among || isShort(index) || (shares[index] as number) >= least;
    first = end;
  }
  return held;
};
