/** Written notes to voices: chords that follow each other, on places that note values can say. */

import { writablePlaces } from '../meter/writablePlaces.js';
import { canBeWritten, type SetTuplet } from '../meter/zones.js';
import type { NoteId } from '../model/arrangement.js';
import type { WrittenNote } from '../plan/written.js';
import type { Staff } from '../reading/stepNote.js';
import { type Bar, beatsOfBars } from '../time/meterMap.js';
import { WRITTEN_PPQ } from '../time/units.js';

/** Notes that begin and end together; written units from the start of the piece. */
export interface VoiceChord {
  readonly start: number;
  readonly end: number;
  /** Low to high, each pitch once. */
  readonly notes: readonly VoiceNote[];
  readonly staccato: boolean;
  /** True for a chord whose tones are struck one after the other. */
  readonly rolled: boolean;
}

/** A Written note in a chord; `sources` takes in those that fell on it. */
export type VoiceNote = Pick<WrittenNote, 'id' | 'pitch' | 'sources' | 'signs'>;

interface Span {
  readonly note: WrittenNote;
  start: number;
  end: number;
}

/** One voice of a staff. */
export interface Voice {
  readonly staff: Staff;
  readonly voice: number;
  readonly chords: readonly VoiceChord[];
  /** Tuplets that a person set, in order; written units from the start of the piece. */
  readonly tuplets: readonly SetTuplet[];
}

/** The voices of a part, from the top of the upper staff down. Notes are in order of onset. */
export const voicesOf = (
  notes: readonly WrittenNote[],
  bars: readonly Bar[],
  tuplets: ReadonlyMap<NoteId, SetTuplet> = new Map(),
): Voice[] => {
  const lists = new Map<number, WrittenNote[]>();
  for (const note of notes) {
    const key = note.staff * 16 + note.voice;
    const list = lists.get(key);
    if (list) list.push(note);
    else lists.set(key, [note]);
  }
  return [...lists]
    .sort(([a], [b]) => a - b)
    .map(([key, list]) => {
      const set = tupletsAmong(list, bars, tuplets);
      return { staff: (key >> 4) as Staff, voice: key & 15, chords: oneVoice(list, bars, set), tuplets: set };
    });
};

/** The tuplets set for notes of a voice that still lie about their note and within a bar, none in another's way. */
const tupletsAmong = (
  notes: readonly WrittenNote[],
  bars: readonly Bar[],
  tuplets: ReadonlyMap<NoteId, SetTuplet>,
): readonly SetTuplet[] => {
  if (tuplets.size === 0) return [];
  const kept: SetTuplet[] = [];
  for (const { id, onset } of notes) {
    const set = tuplets.get(id);
    if (!set || !canBeWritten(set) || onset < set.start || onset >= set.start + set.length) continue;
    const end = set.start + set.length;
    if (!bars.some((bar) => bar.start <= set.start && end <= bar.end)) continue;
    if (kept.every((own) => end <= own.start || own.start + own.length <= set.start)) kept.push(set);
  }
  return kept.sort((a, b) => a.start - b.start);
};

/**
 * Makes one voice of notes in order of onset. What the plan left between the lines (a step switched off, a note drawn
 * freely) goes to the nearest place that can be written, so that any content has a page.
 */
const oneVoice = (notes: readonly WrittenNote[], bars: readonly Bar[], set: readonly SetTuplet[]): VoiceChord[] => {
  const spans = onWritablePlaces(notes, bars, set);
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
      rolled: together.length > 1 && together.some((span) => span.note.rolled),
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

const onWritablePlaces = (notes: readonly WrittenNote[], bars: readonly Bar[], set: readonly SetTuplet[]): Span[] => {
  const spans: Span[] = notes.map((note) => ({
    note,
    start: note.onset,
    end: note.onset + Math.max(1, note.duration),
  }));
  const places = writablePlaces(
    beatsOfBars(bars, WRITTEN_PPQ),
    spans.flatMap((span) => [span.start, span.end]),
    set,
  );
  const last = bars[bars.length - 1]?.end ?? Number.POSITIVE_INFINITY;
  for (const span of spans) {
    span.start = places.nearest(span.start);
    // Nothing is pushed off the end of the page.
    if (span.start >= last) span.start = places.before(last);
    span.end = places.nearest(span.end);
    if (span.end <= span.start) span.end = places.after(span.start);
  }
  return spans;
};
