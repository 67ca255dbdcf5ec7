/** Found beats put right by a person: twice as many, half as many, moved, tapped. */
import type { Arrangement } from '../../model/arrangement.js';
import { createMeterMap } from '../../time/meterMap.js';
import { createTempoMap } from '../../time/tempoMap.js';
import { beatsBefore, type FoundBeats } from './findBeats.js';

/** Two beats are at least so far apart (seconds). */
const NEAREST = 0.05;

/** A beat between each two: for a pulse that was counted half as fast. */
export const doubledBeats = (found: FoundBeats): FoundBeats => ({
  ...found,
  times: found.times.flatMap((time, index) => {
    const next = found.times[index + 1];
    return next === undefined ? [time] : [time, (time + next) / 2];
  }),
  firstInBar: (found.firstInBar * 2) % found.perBar,
});

/** Every second beat, from the first that may begin a bar. */
export const halvedBeats = (found: FoundBeats): FoundBeats => {
  const from = found.firstInBar % 2;
  return {
    ...found,
    times: found.times.filter((_, index) => index % 2 === from),
    firstInBar: Math.ceil(found.firstInBar / 2) % found.perBar,
  };
};

/** The bars begin so many beats later, or earlier. */
export const barsShifted = (found: FoundBeats, by: number): FoundBeats => ({
  ...found,
  firstInBar: (((found.firstInBar - by) % found.perBar) + found.perBar) % found.perBar,
});

/** Which beat is nearest to a time, in seconds. */
export const nearestBeat = ({ times }: FoundBeats, time: number): number =>
  times.reduce((best, own, index) => (Math.abs(own - time) < Math.abs((times[best] ?? 0) - time) ? index : best), 0);

/** One beat at another time, kept between its neighbours. */
export const beatMoved = (found: FoundBeats, index: number, to: number): FoundBeats => {
  const low = (found.times[index - 1] ?? to - 1) + NEAREST;
  const high = (found.times[index + 1] ?? to + 1) - NEAREST;
  return {
    ...found,
    times: found.times.map((time, own) => (own === index ? Math.max(low, Math.min(high, to)) : time)),
  };
};

/** Bars begin at the beat nearest to a time. */
export const barsFrom = (found: FoundBeats, time: number): FoundBeats => ({
  ...found,
  firstInBar: (found.perBar - (nearestBeat(found, time) % found.perBar)) % found.perBar,
});

/** Taps as beats, of which the first begins a bar; null for fewer than four. Seconds from tick 0, in any order. */
export const beatsOfTaps = (
  taps: readonly number[],
  like: Pick<FoundBeats, 'perBar' | 'quarters'>,
): FoundBeats | null => {
  const sorted = [...taps].sort((a, b) => a - b);
  const times = sorted.filter((time, index) => index === 0 || time - (sorted[index - 1] as number) >= NEAREST);
  return times.length < 4 ? null : { perBar: like.perBar, quarters: like.quarters, times, firstInBar: 0 };
};

/** The tempi that beats go at, in whole beats a minute: the middle, and between which all but a share at each end lie. */
export const tempoSpan = (
  { times }: Pick<FoundBeats, 'times'>,
  share: number,
): { readonly slow: number; readonly middle: number; readonly fast: number } => {
  const lengths = times.slice(1).map((time, index) => Math.max(0.01, time - (times[index] as number)));
  const sorted = lengths.sort((a, b) => a - b);
  const at = (part: number) => Math.round(60 / (sorted[Math.floor(part * (sorted.length - 1))] ?? 1));
  return { slow: at(1 - share), middle: at(0.5), fast: at(share) };
};

/** Where a found beat is, and which one it is on the page that it makes. */
export interface PlaceOfBeat {
  /** In ticks, as the tempo is now. */
  readonly tick: number;
  readonly beginsBar: boolean;
  /** The bar's number, and the beat's in it, from 1, counted in found beats. */
  readonly bar: number;
  readonly beat: number;
}

/** The places of beats; bars are those of the arrangement's meters, which stay where they are on the page. */
export const placesOfBeats = (
  { tempos, meters, ppq }: Pick<Arrangement, 'tempos' | 'meters' | 'ppq'>,
  found: FoundBeats,
): readonly PlaceOfBeat[] => {
  const map = createTempoMap(tempos, ppq);
  const bars = createMeterMap(meters, ppq);
  const before = beatsBefore(found);
  const length = found.quarters * ppq;
  return found.times.map((time, index) => {
    const place = Math.round((before + index) * length);
    const bar = bars.barAt(place);
    return {
      tick: map.ticksAt(time),
      beginsBar: place === bar.start,
      bar: bar.number,
      beat: 1 + Math.floor((place - bar.start) / length),
    };
  });
};
