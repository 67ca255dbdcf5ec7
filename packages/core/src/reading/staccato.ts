/**
 * Staccato as a way of playing that a passage has: decided along the line by the cheapest sequence of two states, as in a
 * hidden Markov model (Rabiner, "A tutorial on hidden Markov models", Proceedings of the IEEE 77:2, 1989), not note by note.
 */
import { median } from '../model/statistics.js';
import { WRITTEN_PPQ } from '../time/units.js';

/** What is asked of a note on its way to the next start. */
export interface Sounds {
  readonly onset: number;
  /** How long it sounds. */
  readonly sounding: number;
  readonly next: number | null;
}

/** A note played short sounds for these shares of its value (common practice: half or less), give or take so much. */
const SHARE = { low: 0.2, high: 0.36 } as const;
const GIVE = 0.075;
/** A note this much shorter still has a rest after it: its price at most. */
const REST_AFTER_SHORT = 0.9;
/** What a note costs that stops early where nothing is short: it has a rest after it. Judged by the made lines. */
const REST_PRICE = 1.3;
/** …twice as much where the next start is half a beat away and less: a short eighth has a dot, seldom a rest after it. */
const QUICK_REST_PRICE = 2.6;
const QUICK = 0.55 * WRITTEN_PPQ;
/** Full notes sound for this share at least. */
const FULL = 0.6;
/** How fast that gets dear. */
const FULL_GIVE = 0.06;
/** Price of beginning or ending a passage; judged by the rows of staccato and of no staccato together. */
const CHANGE = 2.2;
/** A note before a rest leans to one state or the other by so much; it is brief where it sounds no longer than this. */
const LEANS = 0.6;
const BRIEF = 0.3 * WRITTEN_PPQ;
/** Longer values are not played short: a stop there is a rest. */
export const LONGEST_SHORT = 1.05 * WRITTEN_PPQ;

/** A note of a short passage that sounds for longer than this is held out. */
const LONGEST_HEARD = LONGEST_SHORT * 0.6;

/** For which share of the way to the next start each note sounds; null before long rests, in long values and at the end. */
export const sharesOf = (notes: readonly Sounds[]): readonly (number | null)[] => {
  // No `map`: over a list as long as a part, compiled code gives up at it, in each run anew.
  const shares: (number | null)[] = [];
  for (const { onset, sounding, next } of notes)
    shares.push(next === null || next - onset > LONGEST_SHORT ? null : sounding / (next - onset));
  return shares;
};

/**
 * For each note of a voice: 0 where it is played out, else the share of its value that notes sound for in its passage.
 */
export const staccatoShares = (notes: readonly Sounds[]): number[] => {
  const shares = sharesOf(notes);
  const short = shortPassages(shares, notes);
  const result: number[] = new Array(notes.length).fill(0);
  for (let first = 0; first < notes.length; ) {
    let end = first + 1;
    while (end < notes.length && short[end] === short[first]) end += 1;
    if (short[first]) {
      const told = shares
        .slice(first, end)
        .filter((share): share is number => share !== null && share > SHARE.low * 0.8);
      const share = Math.min(0.5, Math.max(0.2, median(told) ?? (SHARE.low + SHARE.high) / 2));
      for (let index = first; index < end; index += 1) {
        if ((notes[index] as Sounds).sounding <= LONGEST_HEARD) result[index] = share;
      }
    }
    first = end;
  }
  return result;
};

const fullCost = (share: number, way: number): number =>
  share >= FULL ? 0 : Math.min(way <= QUICK ? QUICK_REST_PRICE : REST_PRICE, ((FULL - share) / FULL_GIVE) ** 2 / 2);

const shortCost = (share: number): number => {
  if (share > SHARE.high) return ((share - SHARE.high) / GIVE) ** 2 / 2;
  return share < SHARE.low ? Math.min(REST_AFTER_SHORT, ((SHARE.low - share) / GIVE) ** 2 / 2) : 0;
};

/** Which notes are in a passage of short ones. */
const shortPassages = (shares: readonly (number | null)[], notes: readonly Sounds[]): boolean[] => {
  let full = 0;
  let short = CHANGE / 2;
  const fromShort: boolean[] = [];
  const fromFull: boolean[] = [];
  for (let index = 0; index < shares.length; index += 1) {
    const share = shares[index] as number | null;
    // Before a rest, or a long value: whether it is short by itself.
    const { onset, sounding, next } = notes[index] as Sounds;
    const brief = sounding < BRIEF;
    fromShort.push(short + CHANGE < full);
    fromFull.push(full + CHANGE < short);
    const [before, shortBefore] = [full, short];
    full =
      Math.min(before, shortBefore + CHANGE) +
      (share !== null ? fullCost(share, (next as number) - onset) : brief ? LEANS : 0);
    short = Math.min(shortBefore, before + CHANGE) + (share !== null ? shortCost(share) : brief ? 0 : LEANS);
  }
  const result: boolean[] = new Array(shares.length).fill(false);
  let isShort = short < full;
  for (let index = shares.length - 1; index >= 0; index -= 1) {
    result[index] = isShort;
    if (isShort ? fromFull[index] : fromShort[index]) isShort = !isShort;
  }
  return result;
};
