/** The meter map: bars, beats and the tree of divisions inside a bar. */
import { lastIndexAtOrBefore } from './search.js';
import type { Ticks } from './units.js';

/** From `tick` on, bars have `numerator` / `denominator`; `groups` (in denominator units) for additive meters. */
export interface MeterChange {
  readonly tick: Ticks;
  readonly numerator: number;
  readonly denominator: number;
  readonly groups?: readonly number[];
}

/** What a meter says of one bar, without its place. */
export type Meter = Pick<MeterChange, 'numerator' | 'denominator' | 'groups'>;

/** Meter when a file gives none (Standard MIDI File 1.0). */
export const DEFAULT_METER: Meter = { numerator: 4, denominator: 4 };

/** A bar: its number from 1, where it starts and ends (ticks), and its meter. A bar cut short by a change is `short`. */
export interface Bar {
  readonly number: number;
  readonly start: number;
  readonly end: number;
  readonly meter: Meter;
  readonly short: boolean;
}

/** A beat as a player counts it; `compound` where it divides in three (a dotted beat). */
export interface Beat {
  readonly start: number;
  readonly length: number;
  readonly compound: boolean;
  /** True where a change of meter cuts it short. */
  readonly cut?: boolean;
}

/** A span of the bar and how it divides; leaves are undivided. Lengths in quarters of `ppq`. */
export interface MeterNode {
  readonly start: number;
  readonly length: number;
  readonly children: readonly MeterNode[];
}

const isCompound = (meter: Meter): boolean =>
  !meter.groups && meter.denominator >= 8 && meter.numerator % 3 === 0 && meter.numerator >= 3;

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
  /** The bar with this number, from 1. */
  barNumbered(number: number): Bar;
}

/** Builds a meter map from changes (any order; at tick 0 the default holds where none is given). */
export const createMeterMap = (changes: readonly MeterChange[], ppq: number): MeterMap => {
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

  const barIn = (spanIndex: number, tick: number): Bar => {
    const span = spans[spanIndex] as (typeof spans)[number];
    const next = spans[spanIndex + 1];
    const index = Math.max(0, Math.floor((tick - span.start) / span.length));
    const start = span.start + index * span.length;
    const full = start + span.length;
    const end = next ? Math.min(full, next.start) : full;
    return { number: span.firstBar + index, start, end, meter: span.meter, short: end < full };
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
      const index = Math.max(
        0,
        lastIndexAtOrBefore(spans, number, (s) => s.firstBar),
      );
      const span = spans[index] as (typeof spans)[number];
      return barIn(index, span.start + (Math.max(1, number) - span.firstBar) * span.length);
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

/** Beats of one bar at their absolute ticks; in a short bar the beats that fit, the last one cut. */
export const beatsOfBar = (bar: Bar, ppq: number): Beat[] =>
  beatsOfMeter(bar.meter, ppq)
    .map((beat) => ({ ...beat, start: beat.start + bar.start }))
    .filter((beat) => beat.start < bar.end)
    .map((beat) => (beat.start + beat.length <= bar.end ? beat : { ...beat, length: bar.end - beat.start, cut: true }));

const beatsByBars = new WeakMap<readonly Bar[], Beat[]>();

/** Beats of many bars, in order; kept for as long as the list of bars is, since every part of a piece asks for the same. */
export const beatsOfBars = (bars: readonly Bar[], ppq: number): readonly Beat[] => {
  let beats = beatsByBars.get(bars);
  if (!beats) {
    beats = bars.flatMap((bar) => beatsOfBar(bar, ppq));
    beatsByBars.set(bars, beats);
  }
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
  return meterMap.barAt(last).number;
};

/** A place as musicians say it: bar and beat from 1, then the ticks past the beat. */
export interface BarPosition {
  readonly bar: number;
  readonly beat: number;
  readonly tick: number;
}

/** Tells places of many ticks: beats of a bar are found once. */
export const createPlaces = (meterMap: MeterMap, ppq: number): ((tick: number) => BarPosition) => {
  const beatsByBar = new Map<number, readonly Beat[]>();
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
    return { bar: bar.number, beat: index + 1, tick: tick - (beats[index] as Beat).start };
  };
};

/** Bar, beat and ticks of a place; ticks before 0 count from the first bar. */
export const barPosition = (meterMap: MeterMap, ppq: number, tick: number): BarPosition =>
  createPlaces(meterMap, ppq)(tick);
