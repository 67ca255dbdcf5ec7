/** How near Written comes to the score as composed: the measure of the default plan. */
import type { WrittenNote } from '../plan/written.js';
import type { Bar } from '../time/meterMap.js';
import type { ComposedNote } from './composed.js';

/** Shares from 0 to 1. */
export interface Accuracy {
  /** F1 of notes with the right pitch and start. */
  readonly noteF1: number;
  /** Of those, how many have the right length. */
  readonly exactDurations: number;
  /** Bars in which every note that starts there is right in pitch, start and length, and none is added. */
  readonly exactBars: number;
  /** Numbers of the bars that are not exact. */
  readonly wrongBars: readonly number[];
}

type Timed = Pick<ComposedNote, 'pitch' | 'onset' | 'duration'>;

const startKey = (note: Timed): string => `${note.onset}:${note.pitch}`;

/** Compares Written notes with the composed ones, bar by bar. `startsOnly` judges percussion by its starts. */
export const accuracyOf = (
  composed: readonly ComposedNote[],
  written: readonly Pick<WrittenNote, 'pitch' | 'onset' | 'duration'>[],
  bars: readonly Bar[],
  startsOnly = false,
): Accuracy => {
  const truth = new Map(composed.map((note) => [startKey(note), note]));
  const found = new Map(written.map((note) => [startKey(note), note]));
  let hits = 0;
  let exact = 0;
  const wrong = new Set<number>();
  const barAt = (onset: number) => bars.find((bar) => onset < bar.end)?.number ?? 0;
  for (const [key, note] of truth) {
    const match = found.get(key);
    if (match) hits += 1;
    if (match && (startsOnly || match.duration === note.duration)) exact += 1;
    else wrong.add(barAt(note.onset));
  }
  for (const note of written) if (!truth.has(startKey(note))) wrong.add(barAt(note.onset));
  const last = Math.max(0, ...composed.map((note) => note.onset));
  const counted = bars.filter((bar) => bar.start <= last).length;
  return {
    noteF1: (2 * hits) / Math.max(1, truth.size + written.length),
    exactDurations: hits === 0 ? 1 : exact / hits,
    exactBars: 1 - wrong.size / Math.max(1, counted),
    wrongBars: [...wrong].sort((a, b) => a - b),
  };
};
