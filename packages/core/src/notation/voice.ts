/** Written notes to one voice: chords that follow each other, on places that note values can say. */
import type { WrittenNote } from '../plan/runPlan.js';
import { type Bar, type Beat, beatsOfBars } from '../time/meterMap.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { WRITTEN_PPQ } from '../time/units.js';
import { divisionFor } from './zones.js';

/** Notes that begin and end together; written units from the start of the piece. */
export interface VoiceChord {
  readonly start: number;
  readonly end: number;
  /** Low to high, each pitch once. */
  readonly notes: readonly VoiceNote[];
  readonly staccato: boolean;
}

/** A Written note in a chord; `sources` takes in those that fell on it. */
export type VoiceNote = Pick<WrittenNote, 'id' | 'pitch' | 'sources'>;

interface Span {
  readonly note: WrittenNote;
  start: number;
  end: number;
}

/**
 * Makes one voice of notes in order of onset. What the plan left between the lines (a step switched off, a note drawn
 * freely) goes to the nearest place that can be written, so that any content has a page.
 */
export const oneVoice = (notes: readonly WrittenNote[], bars: readonly Bar[]): VoiceChord[] => {
  const spans = onWritablePlaces(notes, bars);
  spans.sort((a, b) => a.start - b.start || a.note.pitch - b.note.pitch);
  const chords: VoiceChord[] = [];
  for (let index = 0; index < spans.length; ) {
    const start = (spans[index] as Span).start;
    const together: Span[] = [];
    while (index < spans.length && (spans[index] as Span).start === start) together.push(spans[index++] as Span);
    const longest = Math.max(...together.map((span) => span.end));
    const next = spans[index]?.start ?? Number.POSITIVE_INFINITY;
    chords.push({
      start,
      end: Math.min(longest, next),
      notes: eachPitchOnce(together),
      staccato: together.every((span) => span.note.staccato),
    });
  }
  return chords;
};

const eachPitchOnce = (spans: readonly Span[]): VoiceNote[] => {
  const byPitch = new Map<number, VoiceNote>();
  for (const { note } of spans) {
    const known = byPitch.get(note.pitch);
    byPitch.set(note.pitch, known ? { ...known, sources: [...known.sources, ...note.sources] } : note);
  }
  return [...byPitch.values()].sort((a, b) => a.pitch - b.pitch);
};

/** Thirty-seconds, or sixths of a beat, in the beats where exact values cannot say what is there. */
const onWritablePlaces = (notes: readonly WrittenNote[], bars: readonly Bar[]): Span[] => {
  const spans: Span[] = notes.map((note) => ({
    note,
    start: note.onset,
    end: note.onset + Math.max(1, note.duration),
  }));
  const beats = beatsOfBars(bars, WRITTEN_PPQ);
  const places = new Map<number, number[]>();
  const beatOf = (at: number) =>
    Math.max(
      0,
      lastIndexAtOrBefore(beats, at, (beat) => beat.start),
    );
  for (const span of spans) {
    for (const at of [span.start, span.end]) {
      const index = beatOf(at);
      const list = places.get(index);
      if (list) list.push(at);
      else places.set(index, [at]);
    }
  }
  const snapping = new Map<number, number>();
  for (const [index, list] of places) {
    const parts = partsToSnapTo(beats[index] as Beat, list);
    if (parts) snapping.set(index, parts);
  }
  if (snapping.size === 0) return spans;
  const snapped = (at: number): number => {
    const index = beatOf(at);
    const parts = snapping.get(index);
    if (!parts) return at;
    const beat = beats[index] as Beat;
    return beat.start + (Math.round(((at - beat.start) * parts) / beat.length) * beat.length) / parts;
  };
  for (const span of spans) {
    const shortest = WRITTEN_PPQ / 8;
    span.start = snapped(span.start);
    span.end = snapped(span.end);
    if (span.end <= span.start) span.end = endOfPlace(span.start, beats, snapping, beatOf, shortest);
  }
  return spans;
};

const endOfPlace = (
  start: number,
  beats: readonly Beat[],
  snapping: ReadonlyMap<number, number>,
  beatOf: (at: number) => number,
  shortest: number,
): number => {
  const index = beatOf(start);
  const beat = beats[index] as Beat;
  const parts = snapping.get(index);
  return parts ? Math.min(start + beat.length / parts, beat.start + beat.length) : start + shortest;
};

/** How finely to snap a beat whose places no plain division says; undefined where they can be said as they are. */
const partsToSnapTo = (beat: Beat, places: readonly number[]): number | undefined => {
  const offsets = places.map((at) => at - beat.start);
  const whole = beat.length % 96 === 0;
  if (whole && divisionFor(beat, offsets)) return undefined;
  const off = (parts: number) =>
    offsets.reduce(
      (sum, offset) => sum + Math.abs(offset - (Math.round((offset * parts) / beat.length) * beat.length) / parts),
      0,
    );
  const [duple, triple] = beat.compound ? [12, 4] : [8, 6];
  return off(triple) < off(duple) * 0.5 ? triple : duple;
};
