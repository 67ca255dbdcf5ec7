/**
 * Tenuto: a note held for all of its value where the notes about it are not (common practice: among staccato notes, and in a
 * line that is played detached). Where a whole part is played legato, or by an unsteady hand, nothing sticks out.
 */
import { median } from '../model/statistics.js';
import { WRITTEN_PPQ } from '../time/units.js';
import type { Sounds } from './staccato.js';

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
/** Longer values last as they last. */
const LONGEST = 1.05 * WRITTEN_PPQ;

/** Which notes of a voice are held out; `short` has, for each, the share that its passage sounds for where that is short, else 0. */
export const heldOut = (notes: readonly Sounds[], short: readonly number[]): readonly boolean[] => {
  const shares = notes.map(({ onset, sounding, next }) =>
    next === null || next - onset > LONGEST ? null : sounding / (next - onset),
  );
  const told = shares.filter((share, index): share is number => share !== null && share >= NO_REST && !short[index]);
  const usual = median(told) ?? 1;
  const deviation = 1.4826 * (median(told.map((share) => Math.abs(share - usual))) ?? 0);
  const detached = told.length >= ENOUGH && usual <= DETACHED;
  const least = detached ? Math.max(HELD, usual + LONGER_BY, usual + DEVIATIONS * deviation) : Number.POSITIVE_INFINITY;
  const isShort = (index: number) => (short[index] ?? 0) > 0;
  const full = shares.map((share) => share !== null && share >= HELD_AMONG_SHORT);
  return shares.map((share, index) => {
    if (share === null || !full[index]) return false;
    const [first, end] = rowAbout(full, index);
    if (end - first > MOST_IN_A_ROW) return false;
    return isShort(index) || (isShort(first - 1) && isShort(end)) || share >= least;
  });
};

/** The row of which the one at `index` is: its first, and the one after its last. */
const rowAbout = (row: readonly boolean[], index: number): readonly [first: number, end: number] => {
  let [first, end] = [index, index + 1];
  while (first > 0 && row[first - 1]) first -= 1;
  while (end < row.length && row[end]) end += 1;
  return [first, end];
};
