/** The second best reading of a doubtful place: what it is called, and the corrections of the page that choose it. */
import { writtenLengthInWords } from '../meter/valueWords.js';
import type { NoteId } from '../model/arrangement.js';
import type { NoteOverride } from '../model/overrides.js';
import type { Written, WrittenNote } from '../plan/written.js';
import type { OtherPlace } from '../reading/remark.js';
import { WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import type { PageMend } from './finding.js';

/** A Written note and where it would stand. */
interface Moved {
  readonly note: WrittenNote;
  readonly start: number;
  readonly end: number;
}

interface Layer {
  /** Written notes by the Played notes they came from. */
  readonly bySource: ReadonlyMap<NoteId, WrittenNote>;
  /** And by where they end, in their voice. */
  readonly byEnd: ReadonlyMap<string, readonly WrittenNote[]>;
}

const layers = new WeakMap<Written, Layer>();

const placeIn = ({ staff, voice }: WrittenNote, at: number): string => `${staff} ${voice} ${at}`;

/** A layer laid out for looking up, once. */
const layerOf = (written: Written): Layer => {
  let known = layers.get(written);
  if (!known) {
    const byEnd = new Map<string, WrittenNote[]>();
    for (const note of written.notes) {
      const place = placeIn(note, note.onset + note.duration);
      byEnd.set(place, [...(byEnd.get(place) ?? []), note]);
    }
    const bySource = new Map(written.notes.flatMap((note) => note.sources.map((source) => [source, note] as const)));
    known = { bySource, byEnd };
    layers.set(written, known);
  }
  return known;
};

/** What would stand elsewhere, each note once; what begins elsewhere keeps its end, unless the one after it moves too. */
const movedNotes = (written: Written, others: readonly OtherPlace[]): Moved[] => {
  const { bySource, byEnd } = layerOf(written);
  const moved = new Map<NoteId, Moved>();
  for (const { noteId, start, end } of others) {
    const note = bySource.get(noteId);
    if (!note) continue;
    moved.set(note.id, {
      note,
      start: Math.max(0, Math.round(start ?? note.onset)),
      end: Math.round(end ?? note.onset + note.duration),
    });
  }
  // Who ended where a note began ends where it would begin.
  for (const { note, start } of [...moved.values()]) {
    if (start === note.onset) continue;
    for (const before of byEnd.get(placeIn(note, note.onset)) ?? [])
      moved.set(before.id, { note: before, start: moved.get(before.id)?.start ?? before.onset, end: start });
  }
  return [...moved.values()];
};

const valuesInWords = (moved: readonly Moved[]): string => {
  const values = new Map(
    [...moved]
      .sort((a, b) => a.start - b.start)
      .map(({ start, end }) => [start, writtenLengthInWords(end - start, WRITTEN_PPQ)]),
  );
  return [...values.values()].slice(0, 4).join(', ');
};

const overridesOf = ({ note, start, end }: Moved): NoteOverride[] => [
  ...(start === note.onset ? [] : [{ kind: 'writtenStart', noteId: note.id, at: start as WrittenUnits } as const]),
  ...(end === note.onset + note.duration
    ? []
    : [{ kind: 'writtenEnd', noteId: note.id, at: end as WrittenUnits } as const]),
];

/** Chooses the second best reading, by corrections of the page; null where a note would have no length in it. */
export const secondReading = (written: Written, others: readonly OtherPlace[] = []): PageMend | null => {
  const moved = movedNotes(written, others);
  if (moved.length === 0 || moved.some(({ start, end }) => end <= start)) return null;
  const overrides = moved.flatMap(overridesOf);
  if (overrides.length === 0) return null;
  const shorter = moved.every(({ note, end }) => end < note.onset + note.duration);
  return { where: 'page', label: `Or: ${valuesInWords(moved)}${shorter ? ' and a rest' : ''}`, overrides };
};
