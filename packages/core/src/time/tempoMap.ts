/** The tempo map: ticks to seconds and back across tempo changes. */
import { lastIndexAtOrBefore } from './search.js';
import { type Seconds, seconds, type Ticks, ticks } from './units.js';

/** From `tick` on, a quarter lasts `microsecondsPerQuarter` (SMF meta event 0x51; 1 to 16777215). */
export interface TempoChange {
  readonly tick: Ticks;
  readonly microsecondsPerQuarter: number;
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

/** Builds a tempo map. `changes` need not be sorted; before the first of them the SMF default holds. */
export const createTempoMap = (changes: readonly TempoChange[], ppq: number): TempoMap => {
  const segments: Segment[] = [{ tick: 0, start: 0, secondsPerTick: DEFAULT_MICROSECONDS_PER_QUARTER / 1e6 / ppq }];
  for (const change of [...changes].sort((a, b) => a.tick - b.tick)) {
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
