/** What starts together, or nearly: notes, gathered chords, rolls. */

import { isUnpitched } from '../instruments/instruments.js';
import { endOf } from '../model/arrangement.js';
import { median } from '../model/statistics.js';
import type { StepContext } from './context.js';
import type { Attack } from './gridModel.js';
import type { StepNote } from './stepNote.js';

/** Tones of a roll follow each other within this (milliseconds)… */
const ROLL_GAP = 90;
/** …and all of it lasts at most so long… */
const SHORT_ROLL = 170;
/** …or so long, where its tones ripple evenly: no gap so many times as wide as another. */
const LONGEST_ROLL = 235;
const EVEN = 2.6;
/** Two tones one after the other are a grace or a line, three a roll (common practice). */
const FEWEST_TONES = 3;

/**
 * Groups with one onset each, joined where they are one roll: three tones or more, all up or all down, held together. An
 * instrument that plays one note at a time rolls nothing.
 */
export const rollsOf = (groups: readonly StepNote[][], context: StepContext): StepNote[][][] => {
  if (context.instrument.oneNote) return groups.map((group) => [group]);
  const rolls: StepNote[][][] = [];
  for (let index = 0; index < groups.length; ) {
    const length = rollLength(groups, index, context);
    rolls.push(length === 1 ? [groups[index] as StepNote[]] : groups.slice(index, index + length));
    index += length;
  }
  return rolls;
};

const rollLength = (groups: readonly StepNote[][], first: number, context: StepContext): number => {
  const head = groups[first] as StepNote[];
  const start = (head[0] as StepNote).onset;
  const perMs = context.tempoMap.ticksPerMillisecond(start);
  const second = groups[first + 1]?.[0];
  if (!second || second.onset - start > ROLL_GAP * perMs) return 1;
  let soundsUntil = Math.min(...head.map(endOf));
  let last = head;
  let direction = 0;
  let tones = head.length;
  let count = 1;
  let [narrowest, widest] = [Number.POSITIVE_INFINITY, 0];
  for (let index = first + 1; index < groups.length; index += 1) {
    const next = groups[index] as StepNote[];
    const onset = (next[0] as StepNote).onset;
    const gap = onset - (last[0] as StepNote).onset;
    if (gap > ROLL_GAP * perMs || onset - start > LONGEST_ROLL * perMs) break;
    narrowest = Math.min(narrowest, gap);
    widest = Math.max(widest, gap);
    if (onset - start > SHORT_ROLL * perMs && widest > EVEN * narrowest) break;
    const way = directionOf(last, next);
    if (onset >= soundsUntil || way === 0 || (direction !== 0 && way !== direction)) break;
    direction = way;
    soundsUntil = Math.min(soundsUntil, ...next.map(endOf));
    tones += next.length;
    last = next;
    count += 1;
  }
  return tones >= FEWEST_TONES ? count : 1;
};

const directionOf = (a: readonly StepNote[], b: readonly StepNote[]): number => {
  const low = Math.min(...a.map((n) => n.pitch));
  const high = Math.max(...a.map((n) => n.pitch));
  if (b.every((n) => n.pitch > high)) return 1;
  return b.every((n) => n.pitch < low) ? -1 : 0;
};

/** The first note of a roll's group. */
export const headOf = (roll: readonly StepNote[][], index: number): StepNote =>
  (roll[index] as StepNote[])[0] as StepNote;

/** Notes that share half of the shorter one's length sound together. */
const SHARED = 0.5;

/** The middle one of some notes' lengths; the longer of two. */
export const medianLength = (notes: readonly StepNote[]): number => {
  if (notes.length === 1) return (notes[0] as StepNote).duration;
  return median(notes.map((note) => note.duration)) ?? 0;
};

const sharePitch = (some: readonly StepNote[], others: readonly StepNote[]): boolean => {
  for (const { pitch } of some) for (const other of others) if (other.pitch === pitch) return true;
  return false;
};

/** A key that is to be struck again comes up so much sooner, at most (milliseconds); judged by the lines of 40 to 60 ms. */
const KEY_COMES_UP = 30;

/** Rolls as the grid sees them. Strokes of percussion are short however they are meant, so any two may be together. */
export const attacksOf = (rolls: readonly StepNote[][][], { instrument, tempoMap }: StepContext): Attack[] => {
  const unpitched = isUnpitched(instrument);
  let before: readonly StepNote[] = [];
  let end = 0;
  let lengthBefore = 0;
  const attacks: Attack[] = [];
  for (const roll of rolls) {
    const notes = roll.length === 1 ? (roll[0] as StepNote[]) : roll.flat();
    const length = medianLength(notes);
    const { onset } = headOf(roll, 0);
    const repeats = sharePitch(notes, before);
    const together = unpitched || end - onset >= SHARED * Math.min(lengthBefore, length);
    const cut = repeats && end >= onset - KEY_COMES_UP * tempoMap.ticksPerMillisecond(onset);
    before = notes;
    end = onset + length;
    lengthBefore = length;
    attacks.push({ onset, last: headOf(roll, roll.length - 1).onset, length, repeats, cut, together });
  }
  return attacks;
};
