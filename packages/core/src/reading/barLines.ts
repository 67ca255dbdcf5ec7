/**
 * Where the bar lines lie, read from the notes alone. For each place in the first bar at which the first whole bar could
 * begin, it is asked how well lengths, loudness, harmony and the ending agree; a logistic model says how likely each is.
 * Its weights were fitted to remembered tunes and made scores, with and without pickups, some with their first bar cut,
 * each played with 14 ms of spread; tried on tunes that were left out (the demo's tests hold what came of it).
 */
import type { Note } from '../model/arrangement.js';
import { findKey, keySigns } from '../pitch/keyFinding.js';
import { beatsOfMeter, type Meter, ticksPerBar } from '../time/meterMap.js';

/** What is looked at of a note. */
export type BarLineNote = Pick<Note, 'pitch' | 'onset' | 'duration' | 'velocity'>;

/** What can speak for a place. */
export type BarLineSign = 'starts' | 'long' | 'ending' | 'loud' | 'harmony' | 'usual';

/** One place for the bar lines. */
export interface BarPhase {
  /** Length of the pickup, in ticks; 0 where the piece begins with a whole bar. */
  readonly pickup: number;
  /** How likely it is beside the others, 0 to 1. */
  readonly likelihood: number;
  /** What each kind of sign adds, as a logarithm of odds. */
  readonly signs: Readonly<Record<BarLineSign, number>>;
}

/** So many bars tell enough. */
const MOST_BARS = 48;
/** Bars after which what is counted of them weighs fully, and more with their root. */
const FULL_WEIGHT = 8;
const PITCH_CLASSES = 12;
/** A note held past a line by so much of a sixteenth is held over it. */
const HELD = 0.8;

/** Notes that begin together, by sixteenths. */
interface Attack {
  readonly slot: number;
  readonly velocity: number;
  readonly lowest: number;
  /** Sixteenths to the next one. */
  readonly gap: number;
  /** The same as a logarithm, from the mean, in standard deviations. */
  readonly long: number;
}

const mean = (values: readonly number[]): number =>
  values.length === 0 ? 0 : values.reduce((sum, value) => sum + value, 0) / values.length;

const spreadOf = (values: readonly number[]): number => {
  const middle = mean(values);
  return Math.sqrt(mean(values.map((value) => (value - middle) ** 2))) || 1;
};

const shareOf = <Item>(items: readonly Item[], holds: (item: Item) => boolean): number =>
  mean(items.map((item) => Number(holds(item))));

const attacksOf = (notes: readonly BarLineNote[], unit: number): Attack[] => {
  const bySlot = new Map<number, BarLineNote[]>();
  for (const note of notes) {
    const slot = Math.round(note.onset / unit);
    const own = bySlot.get(slot);
    if (own) own.push(note);
    else bySlot.set(slot, [note]);
  }
  const slots = [...bySlot].sort(([a], [b]) => a - b);
  const gaps = slots.map(([slot, own], index) => {
    const next = slots[index + 1];
    return next ? next[0] - slot : Math.max(...own.map(({ duration }) => duration)) / unit;
  });
  const logs = gaps.map((gap) => Math.log2(Math.max(0.5, gap)));
  const [middle, spread] = [mean(logs), spreadOf(logs)];
  return slots.map(([slot, own], index) => ({
    slot,
    velocity: Math.max(...own.map(({ velocity }) => velocity)),
    lowest: Math.min(...own.map(({ pitch }) => pitch)),
    gap: gaps[index] as number,
    long: ((logs[index] as number) - middle) / spread,
  }));
};

/** What sounds, sixteenth by sixteenth. */
interface Sounding {
  /** True where a note is held over the beginning of the sixteenth. */
  readonly held: readonly boolean[];
  /** How much the pitch classes of a beat before a place differ from those of the beat after it, 0 to 1. */
  readonly change: (at: number) => number;
}

const soundingOf = (notes: readonly BarLineNote[], unit: number, end: number, beat: number): Sounding => {
  const size = Math.ceil(end) + beat + 1;
  const held = Array<boolean>(size).fill(false);
  const chroma = Array.from({ length: size }, () => Array<number>(PITCH_CLASSES).fill(0));
  for (const { onset, duration, pitch } of notes) {
    const [from, to] = [onset / unit, Math.min(size, (onset + duration) / unit)];
    for (let slot = Math.floor(from); slot < to; slot += 1) {
      const own = chroma[slot] as number[];
      const shared = Math.min(to, slot + 1) - Math.max(from, slot);
      own[pitch % PITCH_CLASSES] = (own[pitch % PITCH_CLASSES] as number) + shared;
      if (from < slot - 0.5 && to > slot + HELD) held[slot] = true;
    }
  }
  const beatFrom = (from: number): number[] => {
    const sums = Array<number>(PITCH_CLASSES).fill(0);
    for (let slot = Math.max(0, from); slot < from + beat; slot += 1)
      chroma[slot]?.forEach((amount, pitch) => {
        sums[pitch] = (sums[pitch] as number) + amount;
      });
    return sums;
  };
  const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, x, i) => sum + x * (b[i] as number), 0);
  const known = new Map<number, number>();
  const change = (at: number): number => {
    let value = known.get(at);
    if (value === undefined) {
      const [before, after] = [beatFrom(at - beat), beatFrom(at)];
      const both = Math.sqrt(dot(before, before) * dot(after, after));
      value = both === 0 ? 0 : 1 - dot(before, after) / both;
      known.set(at, value);
    }
    return value;
  };
  return { held, change };
};

/** True for the tones of the tonic's triad. */
const triadOf = (notes: readonly BarLineNote[]): ((pitch: number) => boolean) => {
  const { fifths, minor } = findKey(keySigns([...notes].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch)));
  const tonic = fifths * 7 + (minor ? 9 : 0);
  const triad = new Set([0, minor ? 3 : 4, 7].map((above) => (tonic + above + 240) % PITCH_CLASSES));
  return (pitch) => triad.has(pitch % PITCH_CLASSES);
};

/**
 * The places that the bar lines may have, by eighths, each with how likely it is. `notes` begin at tick 0; none are found
 * where a bar is no whole number of sixteenths, or there are no notes. O(notes).
 */
export const barPhases = (notes: readonly BarLineNote[], meter: Meter, ppq: number): readonly BarPhase[] => {
  const unit = ppq / 4;
  const bar = ticksPerBar(meter, ppq) / unit;
  const heard = notes.filter(({ onset }) => onset < MOST_BARS * bar * unit);
  const attacks = attacksOf(heard, unit);
  const last = attacks[attacks.length - 1];
  if (!Number.isInteger(bar) || !last) return [];
  // Of a longer piece the end is not heard.
  const endHeard = Number(heard.length === notes.length);
  const beats = beatsOfMeter(meter, ppq).map(({ start }) => start / unit);
  const beat = Math.round(beats[1] ?? bar);
  const half = beats.length > 2 && beats.length % 2 === 0 ? bar / 2 : null;
  const end = Math.max(...heard.map(({ onset, duration }) => onset + duration)) / unit;
  const { held, change } = soundingOf(heard, unit, end, beat);
  const inTriad = triadOf(heard);
  const bySlot = new Map(attacks.map((attack) => [attack.slot, attack]));
  const usual = {
    change: mean(Array.from({ length: Math.floor(end / 2) }, (_, index) => change(2 * index + 2))),
    loud: mean(attacks.map(({ velocity }) => velocity)),
    loudSpread: Math.max(4, spreadOf(attacks.map(({ velocity }) => velocity))),
    triad: shareOf(attacks, ({ lowest }) => inTriad(lowest)),
  };
  const longest = [...attacks].sort((a, b) => b.gap - a.gap).slice(0, Math.ceil(attacks.length / 8));

  const signsAt = (pickup: number): BarPhase['signs'] => {
    const placeOf = (slot: number) => (slot - pickup + bar) % bar;
    const lines: number[] = [];
    for (let at = pickup; at < end - 0.5; at += bar) lines.push(at);
    const weight = Math.sqrt(lines.length / FULL_WEIGHT);
    const at = (places: readonly number[]) => places.flatMap((place) => bySlot.get(place) ?? []);
    const begun = at(lines);
    const halves = half === null ? [] : at(lines.map((line) => line + half));
    const missing = 1 - begun.length / Math.max(1, lines.length);
    const over = shareOf(lines, (line) => !bySlot.has(line) && held[line] === true);
    const lastPlace = placeOf(last.slot);
    const onBeat = lastPlace !== 0 && lastPlace !== half && beats.includes(lastPlace);
    return {
      starts: -(2.99 + 1.95 * weight) * missing - (2.42 + 1.81 * weight) * over,
      long:
        1.82 * mean(halves.map(({ long }) => long)) +
        0.98 * weight * (mean(begun.map(({ long }) => long)) - mean(halves.map(({ long }) => long))) +
        2.69 * shareOf(longest, ({ slot }) => placeOf(slot) === half),
      ending:
        endHeard *
        (3.99 * Number(lastPlace === half) +
          0.96 * Number(onBeat) +
          4.36 * Number(lastPlace === 0 && last.gap >= beat) +
          1.63 * Number(placeOf(Math.round(end)) === 0)),
      loud: 1.42 * mean(begun.map(({ velocity }) => (velocity - usual.loud) / usual.loudSpread)),
      harmony:
        4.31 * (mean(lines.map((line) => change(line))) - usual.change) -
        1.31 * (shareOf(begun, ({ lowest }) => inTriad(lowest)) - usual.triad),
      usual: pickup > bar / 2 ? -2.16 : pickup === bar / 2 ? -0.96 : 0,
    };
  };
  const found: { pickup: number; signs: BarPhase['signs']; total: number }[] = [];
  for (let pickup = 0; pickup < bar; pickup += 2) {
    const signs = signsAt(pickup);
    found.push({ pickup: pickup * unit, signs, total: Object.values(signs).reduce((sum, value) => sum + value, 0) });
  }
  const highest = Math.max(...found.map(({ total }) => total));
  const odds = found.map(({ total }) => Math.exp(total - highest));
  const all = odds.reduce((sum, value) => sum + value, 0);
  return found.map(({ pickup, signs }, index) => ({ pickup, signs, likelihood: (odds[index] as number) / all }));
};
