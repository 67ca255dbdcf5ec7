/** Places that note values can say: what lies between them goes to the nearest, beat by beat. */
import type { Beat } from '../time/meterMap.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { type BeatPart, divisionFor, type SetTuplet, splitBeat, WHOLE } from './zones.js';

/** Where places go; written units throughout. */
export interface WritablePlaces {
  /** The nearest place that can be written. */
  readonly nearest: (at: number) => number;
  /** The nearest place after this one, in its beat, that can be written beside those handed in. */
  readonly after: (at: number) => number;
  /** The same before a place, in the beat that ends there. */
  readonly before: (at: number) => number;
}

/** Into how many parts a beat may be cut besides places that need so many: a new place must not spoil their tuplet. */
const PARTS_WITH: { readonly [parts: number]: number } = { 1: 12, 4: 4, 20: 10, 24: 6, 28: 14, 32: 8, 48: 12 };

/** A thirty-second, in parts of a plain beat; a little finer in a dotted one. */
const SHORTEST_PARTS = { simple: 8, compound: 12 } as const;

/**
 * Looks at every place in each beat together: where one division of the beat says them all they stay, elsewhere all of the
 * beat's go to thirty-seconds or, where those fit clearly better, to sixths.
 */
export const writablePlaces = (
  beats: readonly Beat[],
  places: Iterable<number>,
  set: readonly SetTuplet[] = [],
): WritablePlaces => {
  if (set.length > 0) return aboutTuplets(beats, places, set);
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
  /** The step, in written units, that the places of a beat go to, where they cannot stay. */
  const snaps = new Map<number, number>();
  /** The shortest step that goes with the places of a beat, where it is not the usual one. */
  const steps = new Map<number, number>();
  /** Beats whose parts divide each in its own way: a new place goes to where a part begins. */
  const split = new Map<number, readonly BeatPart[]>();
  const rising = inOrder(Float64Array.from(places));
  const offsets: number[] = [];
  for (let first = 0; first < rising.length; ) {
    const index = beatOf(rising[first] as number);
    const { start } = beats[index] as Beat;
    const end = beats[index + 1]?.start ?? Number.POSITIVE_INFINITY;
    offsets.length = 0;
    offsets.push((rising[first] as number) - start);
    for (first += 1; (rising[first] as number) < end; first += 1) offsets.push((rising[first] as number) - start);
    const beat = beats[index] as Beat;
    const cut = isCut(beat);
    const division = cut ? undefined : divisionFor(beat, offsets);
    const parts = cut ? null : splitBeat(beat, offsets, division);
    if (parts) {
      split.set(index, parts);
      continue;
    }
    if (!division) snaps.set(index, stepToSnapTo(beat, offsets));
    const step = snaps.get(index) ?? beat.length / (PARTS_WITH[division?.parts ?? 0] ?? 1);
    if (step !== shortestStep(beat)) steps.set(index, step);
  }
  return {
    nearest: (at) => {
      if (snaps.size === 0) return at;
      const index = beatOf(at);
      const step = snaps.get(index);
      return step ? nearestStep(beats[index] as Beat, at, step) : at;
    },
    after: (at) => {
      const index = beatOf(at);
      const beat = beats[index] as Beat;
      const part = split.get(index)?.find(({ beat: { start } }) => start > at)?.beat;
      if (split.has(index)) return part?.start ?? beat.start + beat.length;
      return Math.min(beat.start + beat.length, at + (steps.get(index) ?? shortestStep(beat)));
    },
    before: (at) => {
      const index = beatOf(at - 1);
      const beat = beats[index] as Beat;
      const parts = split.get(index);
      if (parts) return Math.max(...parts.map(({ beat: { start } }) => (start < at ? start : beat.start)));
      return Math.max(beat.start, at - (steps.get(index) ?? shortestStep(beat)));
    },
  };
};

/** Sorted, where they do not rise already. */
const inOrder = (places: Float64Array): Float64Array => {
  for (let index = 1; index < places.length; index += 1)
    if ((places[index] as number) < (places[index - 1] as number)) return places.sort();
  return places;
};

/** A tuplet's places are those of its notes, and halves and quarters of them where they are whole units. */
const stepIn = ({ length, ratio: { actual } }: SetTuplet): number => {
  const note = length / actual;
  return note % 4 === 0 ? note / 4 : note;
};

/** Where tuplets were set by hand their own places count, and the plain ones everywhere else. */
const aboutTuplets = (beats: readonly Beat[], places: Iterable<number>, set: readonly SetTuplet[]): WritablePlaces => {
  const holding = (at: number) => set.find(({ start, length }) => at >= start && at < start + length);
  const outside = writablePlaces(
    beats,
    [...places].filter((at) => !holding(at)),
  );
  return {
    nearest: (at) => {
      const own = holding(at);
      if (!own) return outside.nearest(at);
      const step = stepIn(own);
      return own.start + Math.round((at - own.start) / step) * step;
    },
    after: (at) => {
      const own = holding(at);
      return own ? Math.min(own.start + own.length, at + stepIn(own)) : outside.after(at);
    },
    before: (at) => {
      const own = holding(at - 1);
      return own ? Math.max(own.start, at - stepIn(own)) : outside.before(at);
    },
  };
};

const nearestStep = (beat: Beat, at: number, step: number): number =>
  beat.start + Math.min(beat.length, Math.round((at - beat.start) / step) * step);

/** A beat cut by a change of meter has no division of its own: it goes by thirty-seconds. */
const isCut = (beat: Beat): boolean =>
  beat.cut === true || (beat.length !== QUARTER && beat.length % (beat.compound ? 48 : 96) !== 0);

const QUARTER = WHOLE / 4;

const shortestStep = (beat: Beat): number =>
  isCut(beat) ? WHOLE / 32 : beat.length / (beat.compound ? SHORTEST_PARTS.compound : SHORTEST_PARTS.simple);

/** How finely to snap a beat whose places (from its start) no plain division says. */
const stepToSnapTo = (beat: Beat, offsets: readonly number[]): number => {
  if (isCut(beat)) return shortestStep(beat);
  const off = (step: number) =>
    offsets.reduce(
      (sum, offset) => sum + Math.abs(offset + beat.start - nearestStep(beat, offset + beat.start, step)),
      0,
    );
  const duple = shortestStep(beat);
  const triple = beat.length / (beat.compound ? 4 : 6);
  return off(triple) < off(duple) * 0.5 ? triple : duple;
};
