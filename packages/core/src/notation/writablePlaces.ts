/** Places that note values can say: what lies between them goes to the nearest, beat by beat. */
import type { Beat } from '../time/meterMap.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { divisionFor, WHOLE } from './zones.js';

/** Where places go; written units throughout. */
export interface WritablePlaces {
  /** The nearest place that can be written. */
  readonly nearest: (at: number) => number;
  /** The nearest place after this one that can be written. */
  readonly after: (at: number) => number;
}

/** A thirty-second, in parts of a plain beat; a little finer in a dotted one. */
const SHORTEST_PARTS = { simple: 8, compound: 12 } as const;

/**
 * Looks at every place in each beat together: where one division of the beat says them all they stay, elsewhere all of the
 * beat's go to thirty-seconds or, where those fit clearly better, to sixths.
 */
export const writablePlaces = (beats: readonly Beat[], places: Iterable<number>): WritablePlaces => {
  // Places come in order, mostly: the beat of the last one is looked at first.
  let last = 0;
  const beatOf = (at: number): number => {
    const known = beats[last];
    if (known && at >= known.start && at < known.start + known.length) return last;
    last = Math.max(
      0,
      lastIndexAtOrBefore(beats, at, (beat) => beat.start),
    );
    return last;
  };
  /** The step, in written units, that each beat's places go to. */
  const steps = new Map<number, number>();
  const rising = Float64Array.from(places).sort();
  for (let first = 0; first < rising.length; ) {
    const index = beatOf(rising[first] as number);
    const { start } = beats[index] as Beat;
    const end = beats[index + 1]?.start ?? Number.POSITIVE_INFINITY;
    const offsets = [(rising[first] as number) - start];
    for (first += 1; (rising[first] as number) < end; first += 1) offsets.push((rising[first] as number) - start);
    const step = stepToSnapTo(beats[index] as Beat, offsets);
    if (step) steps.set(index, step);
  }
  return {
    nearest: (at) => {
      if (steps.size === 0) return at;
      const index = beatOf(at);
      const step = steps.get(index);
      return step ? nearestStep(beats[index] as Beat, at, step) : at;
    },
    after: (at) => {
      const index = beatOf(at);
      const beat = beats[index] as Beat;
      return Math.min(beat.start + beat.length, at + (steps.get(index) ?? shortestStep(beat)));
    },
  };
};

const nearestStep = (beat: Beat, at: number, step: number): number =>
  beat.start + Math.min(beat.length, Math.round((at - beat.start) / step) * step);

/** A beat cut by a change of meter has no division of its own: it goes by thirty-seconds. */
const isCut = (beat: Beat): boolean => beat.cut === true || beat.length % 96 !== 0;

const shortestStep = (beat: Beat): number =>
  isCut(beat) ? WHOLE / 32 : beat.length / (beat.compound ? SHORTEST_PARTS.compound : SHORTEST_PARTS.simple);

/** How finely to snap a beat whose places (from its start) no plain division says; undefined where they can stay. */
const stepToSnapTo = (beat: Beat, offsets: readonly number[]): number | undefined => {
  if (isCut(beat)) return shortestStep(beat);
  if (divisionFor(beat, offsets)) return undefined;
  const off = (step: number) =>
    offsets.reduce(
      (sum, offset) => sum + Math.abs(offset + beat.start - nearestStep(beat, offset + beat.start, step)),
      0,
    );
  const duple = shortestStep(beat);
  const triple = beat.length / (beat.compound ? 4 : 6);
  return off(triple) < off(duple) * 0.5 ? triple : duple;
};
