/** What the page says of the tempo: marks where it is new, words where it changes little by little. */

import { median } from '../model/statistics.js';

/** What stands over a change of tempo; null where the page says nothing. */
export type TempoWords = 'metronome' | 'rit.' | 'accel.' | 'a tempo' | null;

/** A tempo from a place on, in any unit of place. */
export interface TempoAt {
  readonly at: number;
  readonly quartersPerMinute: number;
}

/** Tempi this near to each other are one to a player (a just noticeable difference is some hundredths). */
const SAME = 0.03;
/** So many changes in one direction, each soon after the other, are a gradual one where they make so much together. */
const GRADUAL = 3;
const BENT = 0.08;

/** A tempo that breathes moves all the time: so many changes, most of them soon after the one before. */
const [BREATHES, MOSTLY] = [16, 0.7];
/** Of such a tempo only what makes so much together is said: the rest is how it is played. */
const BENT_BREATHING = 0.25;

/** True for a tempo taken from a free take: it changes nearly with every beat. `changes` are those of the map, no ramps drawn out. */
export const breathes = (changes: readonly TempoAt[], soon: number): boolean => {
  const near = changes.filter(({ at }, index) => index > 0 && at - (changes[index - 1] as TempoAt).at <= soon / 2);
  return changes.length >= BREATHES && near.length >= MOSTLY * changes.length;
};

/** The tempo that a mark at the beginning says: of one that breathes its middle, else the first. Of no changes 120. */
export const tempoToSay = (changes: readonly TempoAt[], breathing: boolean): number =>
  (breathing ? median(changes.map(({ quartersPerMinute }) => quartersPerMinute)) : changes[0]?.quartersPerMinute) ??
  120;

const same = (a: number, b: number): boolean => Math.abs(a / b - 1) <= SAME;

/**
 * Words for each change, in order. Changes that follow each other within `soon` (a bar) and go one way are one rit. or
 * accel., said where it begins; where the tempo then rests, "a tempo" takes it back, or a mark says the new one. What
 * lasts no bar, or differs by less than a player would notice from what was said last, is the player's own. `end` is where
 * the piece ends. Of a tempo that breathes ({@link breathes}) only what makes much is said.
 */
export const tempoWordsOf = (
  changes: readonly TempoAt[],
  soon: number,
  end: number,
  breathing = false,
): readonly TempoWords[] => {
  const words: TempoWords[] = changes.map(() => null);
  const bend = breathing ? BENT_BREATHING : BENT;
  const tempo = (index: number) => (changes[index] as TempoAt).quartersPerMinute;
  const lasts = (index: number) => (changes[index + 1]?.at ?? end) - (changes[index] as TempoAt).at >= soon;
  /** The tempo that the page is in, and whether words of a gradual change took it away. */
  let said: number | null = null;
  let bent = false;
  const settle = (index: number) => {
    if (said === null || !same(tempo(index), said)) {
      words[index] = 'metronome';
      said = tempo(index);
    } else if (bent) words[index] = 'a tempo';
    bent = false;
  };
  for (let index = 0; index < changes.length; index += 1) {
    if (said === null) {
      settle(index);
      continue;
    }
    const before = tempo(index - 1);
    const way = Math.sign(tempo(index) - before);
    let last = index;
    while (last + 1 < changes.length && !lasts(last) && Math.sign(tempo(last + 1) - tempo(last)) === way) last += 1;
    if (last - index + 1 >= GRADUAL && Math.abs(tempo(last) / before - 1) >= bend) {
      words[index] = way < 0 ? 'rit.' : 'accel.';
      bent = true;
      if (lasts(last)) settle(last);
      index = last;
    } else if (lasts(index) && !breathing) settle(index);
  }
  return words;
};
