/** A drawn note that sits in the performance: as loud, and as early or late, as the chord or the notes it joins. */
import type { Note } from '../model/arrangement.js';
import { median } from '../model/statistics.js';
import { firstIndexAtOrAfter } from '../time/search.js';
import { startingNear } from './picking.js';

/** Where a drawn note begins, and how loud it is. */
export interface Fit {
  readonly onset: number;
  readonly velocity: number;
}

/**
 * How a note drawn at a place of the grid fits in among others: of a chord that begins within half the grid it takes the
 * middle start and loudness; between neighbours, a loudness between theirs and the lean of the nearer. Null where the part
 * has no note within `reach` ticks. `notes` are in order of onset; O(log n) but for the chord.
 */
export const fitAmong = (
  notes: readonly Note[],
  place: number,
  { grid, reach, nearestLine }: { grid: number; reach: number; nearestLine: (tick: number) => number },
): Fit | null => {
  const chord = startingNear(notes, place, Math.max(1, grid / 2)).filter((note) => !note.muted);
  if (chord.length > 0) {
    return {
      onset: median(chord.map((note) => note.onset)) ?? place,
      velocity: Math.round(median(chord.map((note) => note.velocity)) ?? 80),
    };
  }
  const at = firstIndexAtOrAfter(notes, place, (note) => note.onset);
  const [before, after] = [notes[at - 1], notes[at]];
  const near = [before, after].filter(
    (note): note is Note => !!note && !note.muted && Math.abs(note.onset - place) <= reach,
  );
  const [first, second] = near;
  if (!first) return null;
  const nearer = second && Math.abs(second.onset - place) < Math.abs(first.onset - place) ? second : first;
  const lean = nearer.onset - nearestLine(nearer.onset);
  const share = second ? (place - first.onset) / Math.max(1, second.onset - first.onset) : 0;
  return {
    onset: Math.max(0, Math.round(place + lean)),
    velocity: Math.round(second ? first.velocity + (second.velocity - first.velocity) * share : first.velocity),
  };
};
