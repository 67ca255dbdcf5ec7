/** The meter map: bars, beats and the tree of divisions inside a bar. */
import { lastIndexAtOrBefore } from './search.js';
import type { Ticks } from './units.js';

/** From `tick` on, bars have `numerator` / `denominator`; `groups` (in denominator units) for additive meters. */
export interface MeterChange {
  readonly tick: Ticks;
  readonly numerator: number;
  readonly denominator: number;
  readonly groups?: readonly number[];
  /**
   * On the first change alone: its bar is a pickup, numbered 0, and the page begins at this tick. It is the bar's start,
   * or lies within the bar where a file padded it with rests.
   */
  readonly pickup?: Ticks | undefined;
}

/** What a meter says of one bar, without its place. */
export type Meter = Pick<MeterChange, 'numerator' | 'denominator' | 'groups'>;

/** Meter when a file gives none (Standard MIDI File 1.0). */
export const DEFAULT_METER: Meter = { numerator: 4, denominator: 4 };

/**
 * A bar: its number as players say it (from 1; a pickup is 0), its place in the order of bars (from 0), where it starts
 * and ends (ticks), and its meter. A bar shorter than its meter is `short`: cut by a change, or a pickup.
 */
export interface Bar {
  readonly number: number;
  readonly index: number;
  readonly start: number;
  readonly end: number;
  readonly meter: Meter;
  readonly short: boolean;
  /** True for a pickup: where it is short, what it has are the last beats of its meter. */
  readonly pickup?: true;
}

/** A beat as a player counts it; `compound` where it divides in three (a dotted beat). */
export interface Beat {
  readonly start: number;
  readonly length: number;
  readonly compound: boolean;
  /** True where a change of meter or the start of a pickup cuts it short. */
  readonly cut?: boolean;
}

/** A beat of a bar, counted from 1 as a player does: a pickup of one quarter in 4/4 is beat 4. */
export interface CountedBeat extends Beat {
  readonly number: number;
}

/** A span of the bar and how it divides; leaves are undivided. Lengths in quarters of `ppq`. */
export interface MeterNode {
  readonly start: number;
  readonly length: number;
  readonly children: readonly MeterNode[];
}

const isCompound = (meter: Meter): boolean =>
  !meter.groups && meter.denominator >= 8 && meter.numerator % 3 === 0 && meter.numerator >= 3;

/** The tick at which the page begins in a pickup bar; null where the first bar is none. */
export const pickupOf = (meters: readonly MeterChange[]): Ticks | null =>
  meters.find((change) => change.tick <= 0 && change.pickup !== undefined)?.pickup ?? null;

/** The changes of meter as a person reads them: a pickup that the file says as a short bar is of the meter after it. */
export const shownMeters = (meters: readonly MeterChange[]): readonly MeterChange[] => {
  const [first, second, ...more] = meters;
  if (first?.pickup !== 0 || !second) return meters;
  return [{ ...second, tick: first.tick }, ...more];
};

/** Length of a full bar of `meter`, in ticks of `ppq`. */
export const ticksPerBar = (meter: Meter, ppq: number): number => (meter.numerator * ppq * 4) / meter.denominator;

/** Groups of an additive meter in denominator units: as given, else threes last (5/8 is 2+3, 7/8 is 2+2+3; common practice). */
const additiveGroups = (meter: Meter): readonly number[] => {
  if (meter.groups && meter.groups.reduce((sum, g) => sum + g, 0) === meter.numerator) return meter.groups;
  const groups: number[] = [];
  let left = meter.numerator;
  while (left > 3) {
    groups.push(2);
    left -= 2;
  }
  if (left > 0) groups.push(left);
  return groups;
};

const beatLengths = (meter: Meter): { units: number; compound: boolean }[] => {
  const { numerator, denominator } = meter;
  if (isCompound(meter)) return Array.from({ length: numerator / 3 }, () => ({ units: 3, compound: true }));
  if (denominator >= 8) {
    return additiveGroups(meter).map((units) => ({ units, compound: units === 3 }));
  }
  return Array.from({ length: numerator }, () => ({ units: 1, compound: false }));
};

/**
 * Beats of one bar, offsets in ticks of `ppq` from the bar's start. Quarters in x/4, halves cut to quarters in x/2,
 * dotted beats in compound meters, groups in additive ones.
 */
export const beatsOfMeter = (meter: Meter, ppq: number): Beat[] => {
  const unit = (ppq * 4) / meter.denominator;
  const beats: Beat[] = [];
  let start = 0;
  for (const { units, compound } of beatLengths(meter)) {
    const pieces = meter.denominator < 4 ? 4 / meter.denominator : 1;
    const length = (units * unit) / pieces;
    for (let piece = 0; piece < pieces; piece += 1) {
      beats.push({ start, length, compound });
      start += length;
    }
  }
  return beats;
};

const halved = (start: number, length: number, smallest: number): MeterNode => ({
  start,
  length,
  children:
    length / 2 >= smallest
      ? [halved(start, length / 2, smallest), halved(start + length / 2, length / 2, smallest)]
      : [],
});

const grouped = (start: number, parts: readonly ((from: number) => MeterNode)[]): MeterNode => {
  const children: MeterNode[] = [];
  let at = start;
  for (const part of parts) {
    const child = part(at);
    children.push(child);
    at += child.length;
  }
  return { start, length: at - start, children };
};

/** A span cut in three equal parts, each halved further. */
export const thirds = (start: number, length: number, smallest: number): MeterNode =>
  grouped(
    start,
    [0, 1, 2].map(() => (from: number) => halved(from, length / 3, smallest)),
  );

/** A span halved down to `smallest`. */
export const halves = halved;

/**
 * The tree of a full bar: 4/4 is two halves of two beats, 3/4 three beats, 6/8 two dotted beats, 5/4 three beats and two.
 * Offsets in ticks of `ppq` from the bar's start; the smallest span is a 128th.
 */
export const meterTree = (meter: Meter, ppq: number): MeterNode => {
  const smallest = ppq / 32;
  const parts = beatsOfMeter(meter, ppq).map(
    ({ length, compound }) =>
      (from: number) =>
        compound ? thirds(from, length, smallest) : halved(from, length, smallest),
  );
  if (parts.length === 1) return (parts[0] as (from: number) => MeterNode)(0);
  return grouped(0, pairBeats(parts, meter));
};

/** Groups the beats of simple and long compound meters in pairs (4/4, 12/8) or threes (5/4 is 3+2), as players count them. */
const pairBeats = (
  parts: readonly ((from: number) => MeterNode)[],
  meter: Meter,
): readonly ((from: number) => MeterNode)[] => {
  const count = parts.length;
  const additive = meter.denominator >= 8 && !isCompound(meter);
  if (additive || count < 4) return parts;
  const sizes =
    meter.groups && meter.denominator === 4
      ? meter.groups
      : count % 2 === 0 && !(count === 6 && meter.denominator === 4)
        ? Array(count / 2).fill(2)
        : groupsOfThree(count);
  const pairs: ((from: number) => MeterNode)[] = [];
  let index = 0;
  for (const size of sizes as number[]) {
    const members = parts.slice(index, index + size);
    index += size;
    pairs.push((from) =>
      members.length === 1 ? (members[0] as (f: number) => MeterNode)(from) : grouped(from, members),
    );
  }
  return pairs;
};

const groupsOfThree = (count: number): number[] =>
  count % 3 === 0 ? Array<number>(count / 3).fill(3) : [3, ...Array<number>(Math.floor((count - 3) / 2)).fill(2)];

/** Bars over a stretch of music; made once, then asked by tick. */
export interface MeterMap {
  /** Bars from tick 0 to at least `end`, the last one full. */
  barsTo(end: number): Bar[];
  /** The bar that holds `tick` (negative ticks: the first bar). */
  barAt(tick: number): Bar;
  /** The bar with this number; the first where there is none so low. */
  barNumbered(number: number): Bar;
}

/**
 * Builds a meter map from changes (any order; at tick 0 the default holds where none is given). On the page a padded
 * pickup begins at `begins`, not at 0.
 */
export const createMeterMap = (changes: readonly MeterChange[], ppq: number, begins = 0): MeterMap => {
  const sorted = [...changes].sort((a, b) => a.tick - b.tick);
  const spans: { start: number; firstBar: number; meter: Meter; length: number }[] = [];
  const push = (start: number, meter: Meter) => {
    const last = spans[spans.length - 1];
    const length = ticksPerBar(meter, ppq);
    if (last && last.start === start) spans.pop();
    const previous = spans[spans.length - 1];
    const firstBar = previous ? previous.firstBar + Math.ceil((start - previous.start) / previous.length) : 1;
    spans.push({ start, firstBar, meter, length });
  };
  push(0, DEFAULT_METER);
  for (const change of sorted) push(Math.max(0, change.tick), change);
  const firstNumber = pickupOf(changes) === null ? 1 : 0;

  const pickupBar = (): Bar => {
    const [first, next] = spans as [(typeof spans)[number], (typeof spans)[number] | undefined];
    const shortMeter = next !== undefined && next.start <= first.length;
    const meter = shortMeter ? next.meter : first.meter;
    const end = shortMeter ? next.start : first.length;
    const start = Math.min(begins, end - 1);
    return { number: 0, index: 0, start, end, meter, short: end - start < ticksPerBar(meter, ppq), pickup: true };
  };

  const barIn = (spanIndex: number, tick: number): Bar => {
    const span = spans[spanIndex] as (typeof spans)[number];
    const next = spans[spanIndex + 1];
    const inSpan = Math.max(0, Math.floor((tick - span.start) / span.length));
    const index = span.firstBar - 1 + inSpan;
    if (index === 0 && firstNumber === 0) return pickupBar();
    const start = span.start + inSpan * span.length;
    const full = start + span.length;
    const end = next ? Math.min(full, next.start) : full;
    return { number: index + firstNumber, index, start, end, meter: span.meter, short: end < full };
  };
  const barAt = (tick: number) =>
    barIn(
      Math.max(
        0,
        lastIndexAtOrBefore(spans, tick, (s) => s.start),
      ),
      tick,
    );
  return {
    barAt,
    barNumbered: (number) => {
      const place = Math.max(1, number - firstNumber + 1);
      const index = Math.max(
        0,
        lastIndexAtOrBefore(spans, place, (s) => s.firstBar),
      );
      const span = spans[index] as (typeof spans)[number];
      return barIn(index, span.start + (place - span.firstBar) * span.length);
    },
    barsTo: (end) => {
      const bars: Bar[] = [];
      for (let bar = barAt(0); ; bar = barAt(bar.end)) {
        bars.push(bar);
        if (bar.end >= end) return bars;
      }
    },
  };
};

/** The bar of a list that holds `tick`; the first for ticks before it. */
export const barHolding = (bars: readonly Bar[], tick: number): Bar | undefined =>
  bars[
    Math.max(
      0,
      lastIndexAtOrBefore(bars, tick, (b) => b.start),
    )
  ];

/** Where the bar would begin if it were whole: its start, and for a short pickup some way before it. */
export const originOf = (bar: Bar, ppq: number): number =>
  bar.pickup && bar.short ? bar.end - ticksPerBar(bar.meter, ppq) : bar.start;

/**
 * Beats of one bar at their absolute ticks; in a short bar the beats that fit, the last one cut, and in a pickup the last
 * ones of the meter, the first one cut.
 */
export const beatsOfBar = (bar: Bar, ppq: number): CountedBeat[] => {
  const origin = originOf(bar, ppq);
  return beatsOfMeter(bar.meter, ppq).flatMap((beat, index): CountedBeat[] => {
    const from = Math.max(bar.start, beat.start + origin);
    const to = Math.min(bar.end, beat.start + origin + beat.length);
    if (to <= from) return [];
    const whole = to - from === beat.length;
    return [{ ...beat, start: from, length: to - from, number: index + 1, ...(whole ? {} : { cut: true }) }];
  });
};

const beatsByBars = new WeakMap<readonly Bar[], CountedBeat[]>();

/** Beats of many bars, in order; kept for as long as the list of bars is, since every part of a piece asks for the same. */
export const beatsOfBars = (bars: readonly Bar[], ppq: number): readonly CountedBeat[] => {
  const known = beatsByBars.get(bars);
  if (known) return known;
  const beats: CountedBeat[] = [];
  let plain: readonly Beat[] = [];
  let meter: Meter | undefined;
  for (const bar of bars) {
    if (bar.short) {
      beats.push(...beatsOfBar(bar, ppq));
      continue;
    }
    if (bar.meter !== meter) {
      meter = bar.meter;
      plain = beatsOfMeter(meter, ppq);
    }
    for (let index = 0; index < plain.length; index += 1) {
      const { start, length, compound } = plain[index] as Beat;
      beats.push({ start: bar.start + start, length, compound, number: index + 1 });
    }
  }
  beatsByBars.set(bars, beats);
  return beats;
};

/**
 * How many bars a recording has: to the bar in which its last note starts, or ends but for an overhang of less than a
 * sixteenth.
 */
export const barsOfRecording = (
  meters: readonly MeterChange[],
  ppq: number,
  notes: Iterable<{ readonly onset: number; readonly duration: number }>,
): number => {
  const meterMap = createMeterMap(meters, ppq);
  let last = 0;
  for (const { onset, duration } of notes) last = Math.max(last, onset, onset + duration - ppq / 4);
  return meterMap.barAt(last).index + 1;
};

/** A place as musicians say it: bar (from 1; 0 in a pickup) and beat (from 1), then the ticks past the beat. */
export interface BarPosition {
  readonly bar: number;
  readonly beat: number;
  readonly tick: number;
}

/** Tells places of many ticks: beats of a bar are found once. */
export const createPlaces = (meterMap: MeterMap, ppq: number): ((tick: number) => BarPosition) => {
  const beatsByBar = new Map<number, readonly CountedBeat[]>();
  return (tick) => {
    const bar = meterMap.barAt(tick);
    let beats = beatsByBar.get(bar.start);
    if (!beats) {
      beats = beatsOfBar(bar, ppq);
      beatsByBar.set(bar.start, beats);
    }
    const index = Math.max(
      0,
      lastIndexAtOrBefore(beats, tick, (b) => b.start),
    );
    const beat = beats[index] as CountedBeat;
    return { bar: bar.number, beat: beat.number, tick: tick - beat.start };
  };
};

/** Bar, beat and ticks of a place; ticks before 0 count from the first bar. */
export const barPosition = (meterMap: MeterMap, ppq: number, tick: number): BarPosition =>
  createPlaces(meterMap, ppq)(tick);

/** "3.2.120": bar, beat, ticks past it. */
export const placeInNumbers = (meterMap: MeterMap, ppq: number, tick: number): string => {
  const { bar, beat, tick: past } = barPosition(meterMap, ppq, tick);
  return `${bar}.${beat}.${Math.round(past)}`;
};

/** The tick of a place, on the bar's first beat where it says none; null where there is no such bar or beat. */
export const tickOfPlace = (
  meterMap: MeterMap,
  ppq: number,
  { bar, beat, tick }: Omit<BarPosition, 'beat'> & { readonly beat: number | null },
): number | null => {
  const found = meterMap.barNumbered(bar);
  if (found.number !== bar) return null;
  const beats = beatsOfBar(found, ppq);
  const start = (beat === null ? beats[0] : beats.find(({ number }) => number === beat))?.start;
  return start === undefined ? null : start + tick;
};
