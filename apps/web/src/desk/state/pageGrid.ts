/**
 * The page's own divisions: how each beat divides where the plan has written something in it. Where the page has triplets,
 * the grid has triplets; where it has eighths, eighths.
 */
import { type Beat, firstIndexAtOrAfter } from '@crispfold/core';

/** Divisions of a beat, the plainest first; of a compound beat thirds are plain. */
const SIMPLE = [1, 2, 4, 3, 8, 6, 5, 12, 16] as const;
const COMPOUND = [1, 3, 6, 2, 4, 12] as const;
/** Places this near to a line are on it (share of a beat): written places are exact but for rounding to ticks. */
const SLACK = 0.008;

/** Lines of a grid, in rising order of ticks, and the beats they divide. */
export interface PageGrid {
  /** The nearest line to a tick. */
  readonly nearest: (tick: number) => number;
  /** Lines within a stretch, those of the beats themselves among them. */
  readonly linesIn: (start: number, end: number) => readonly number[];
}

/** The plainest division of a beat on whose lines all places lie; 1 where there are none. */
export const divisionOf = (beat: Beat, places: readonly number[]): number => {
  const shares = places.map((place) => (place - beat.start) / beat.length);
  const onLines = (division: number) =>
    shares.every((share) => Math.abs(share * division - Math.round(share * division)) <= SLACK * division);
  const tried: readonly number[] = beat.compound ? COMPOUND : SIMPLE;
  return tried.find(onLines) ?? 16;
};

const placeOf = (lines: readonly number[], tick: number): number => firstIndexAtOrAfter(lines, tick, (line) => line);

/** The grid of a part's page: `written` are its notes in ticks, `beats` those of the piece, in order. O(n log n). */
export const pageGrid = (
  beats: readonly Beat[],
  written: readonly { readonly onset: number; readonly duration: number }[],
): PageGrid => {
  const places = [...new Set(written.flatMap(({ onset, duration }) => [onset, onset + duration]))].sort(
    (a, b) => a - b,
  );
  const lines: number[] = [];
  let at = 0;
  for (const beat of beats) {
    const end = beat.start + beat.length;
    const own: number[] = [];
    while (at < places.length && (places[at] as number) < end - SLACK * beat.length) {
      if ((places[at] as number) >= beat.start) own.push(places[at] as number);
      at += 1;
    }
    const division = divisionOf(beat, own);
    for (let line = 0; line < division; line += 1) lines.push(beat.start + (line * beat.length) / division);
  }
  return {
    nearest: (tick) => {
      const next = placeOf(lines, tick);
      const [before, after] = [lines[next - 1], lines[next]];
      if (before === undefined) return after ?? tick;
      return after === undefined || tick - before <= after - tick ? before : after;
    },
    linesIn: (start, end) => lines.slice(placeOf(lines, start), placeOf(lines, end)),
  };
};
