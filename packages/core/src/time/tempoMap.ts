/** The tempo map: ticks to seconds and back across tempo changes. */
import { type Ease, onRamp, secondsOfRamp } from './ramps.js';
import { lastIndexAtOrBefore } from './search.js';
import { type Seconds, seconds, type Ticks, ticks } from './units.js';

/** From `tick` on, a quarter lasts `microsecondsPerQuarter` (SMF meta event 0x51; 1 to 16777215). */
export interface TempoChange {
  readonly tick: Ticks;
  readonly microsecondsPerQuarter: number;
  /** Where the tempo moves from here on: towards so many microseconds a quarter, reached where the next change stands. */
  readonly ramp?: { readonly to: number; readonly ease: Ease };
}

/** Tempo when a file gives none: 120 quarters a minute (Standard MIDI File 1.0). */
export const DEFAULT_MICROSECONDS_PER_QUARTER = 500_000;

/** Converts between ticks and seconds; made once for an arrangement, then cheap to ask. */
export interface TempoMap {
  /** Seconds from tick 0 to `tick`. */
  secondsAt(tick: number): Seconds;
  /** The tick (not rounded) that lies `time` seconds after tick 0. */
  ticksAt(time: number): number;
  /** Ticks that last one millisecond at `tick`. */
  ticksPerMillisecond(tick: number): number;
}

interface Segment {
  readonly tick: number;
  readonly start: number;
  readonly secondsPerTick: number;
}

/** A ramp has so many tempi a quarter in a file: finer than an ear tells. */
const STEPS_A_QUARTER = 16;
/** The slowest that a MIDI file can say, in microseconds a quarter. */
const SLOWEST = 16_777_215;

/**
 * The same tempi with each ramp as steps that hold, as a MIDI file says it: in whole microseconds a quarter, each step as
 * long as the ramp is there, what was rounded made good by the next. A ramp with no change after it does not move.
 */
export const expandedTempos = (
  changes: readonly TempoChange[],
  ppq: number,
  stepsPerQuarter = STEPS_A_QUARTER,
): readonly TempoChange[] => {
  if (!changes.some(({ ramp }) => ramp)) return changes;
  const sorted = [...changes].sort((a, b) => a.tick - b.tick);
  return sorted.flatMap(({ ramp, ...change }, index): readonly TempoChange[] => {
    const next = sorted[index + 1];
    if (!ramp || !next || next.tick <= change.tick) return [change];
    const length = next.tick - change.tick;
    const from = quartersPerMinute(change.microsecondsPerQuarter);
    const to = quartersPerMinute(ramp.to);
    const count = Math.max(1, Math.min(length, Math.round((length / ppq) * stepsPerQuarter)));
    const steps: TempoChange[] = [];
    let owed = 0;
    for (let step = 0; step < count; step += 1) {
      const start = Math.round((step * length) / count);
      const end = Math.round(((step + 1) * length) / count);
      const quarters = (end - start) / ppq;
      const lasts = pieceOfRamp(from, to, ramp.ease, start / length, end / length, quarters) * 1e6 + owed;
      const microsecondsPerQuarter = Math.max(1, Math.min(SLOWEST, Math.round(lasts / quarters)));
      owed = lasts - microsecondsPerQuarter * quarters;
      steps.push({ tick: ticks(change.tick + start), microsecondsPerQuarter });
    }
    return steps;
  });
};

/** Seconds that a piece of a ramp lasts, from one share of its length to another. */
const pieceOfRamp = (from: number, to: number, ease: Ease, first: number, last: number, quarters: number): number => {
  if (ease === 0) return secondsOfRamp(onRamp(from, to, first, 0), onRamp(from, to, last, 0), 0, quarters);
  const lasts = (share: number) => 60 / onRamp(from, to, share, ease);
  // Simpson's rule: a piece is too short for more.
  return ((lasts(first) + 4 * lasts((first + last) / 2) + lasts(last)) * quarters) / 6;
};

/** Builds a tempo map. `changes` need not be sorted; before the first of them the SMF default holds. */
export const createTempoMap = (changes: readonly TempoChange[], ppq: number): TempoMap => {
  const segments: Segment[] = [{ tick: 0, start: 0, secondsPerTick: DEFAULT_MICROSECONDS_PER_QUARTER / 1e6 / ppq }];
  for (const change of [...expandedTempos(changes, ppq)].sort((a, b) => a.tick - b.tick)) {
    const last = segments[segments.length - 1] as Segment;
    const next: Segment = {
      tick: change.tick,
      start: last.start + (change.tick - last.tick) * last.secondsPerTick,
      secondsPerTick: change.microsecondsPerQuarter / 1e6 / ppq,
    };
    if (change.tick === last.tick) segments[segments.length - 1] = { ...next, start: last.start };
    else segments.push(next);
  }
  // Asked note after note, the answer is nearly always the segment of the note before.
  let last = 0;
  const at = (tick: number): Segment => {
    const known = segments[last] as Segment;
    const next = segments[last + 1];
    if (tick >= known.tick && (next === undefined || tick < next.tick)) return known;
    last = Math.max(
      0,
      lastIndexAtOrBefore(segments, tick, (s) => s.tick),
    );
    return segments[last] as Segment;
  };
  return {
    secondsAt: (tick) => {
      const segment = at(tick);
      return seconds(segment.start + (tick - segment.tick) * segment.secondsPerTick);
    },
    ticksAt: (time) => {
      const index = Math.max(
        0,
        lastIndexAtOrBefore(segments, time, (s) => s.start),
      );
      const segment = segments[index] as Segment;
      return ticks(segment.tick + (time - segment.start) / segment.secondsPerTick);
    },
    ticksPerMillisecond: (tick) => 0.001 / at(tick).secondsPerTick,
  };
};

/** Quarters a minute for a tempo in microseconds per quarter. */
export const quartersPerMinute = (microsecondsPerQuarter: number): number => 60_000_000 / microsecondsPerQuarter;
