/** Copies of notes: what is taken along, pasted, repeated and duplicated, in one part or several. */
import {
  type Arrangement,
  compareNotes,
  endOf,
  type Note,
  type NoteId,
  type PartId,
  partById,
} from '../model/arrangement.js';
import { type Change, type Edit, notesChange } from '../model/edit.js';
import { failure, type Result, success } from '../model/result.js';
import { type Selection, selectedNotes } from '../model/selection.js';
import { beatsOfMeter, createMeterMap } from '../time/meterMap.js';
import { rescaleTicks, ticks } from '../time/units.js';
import { allSelected } from './editSelected.js';
import { labelFor } from './labels.js';
import { beyondLongest } from './longest.js';
import { limitMove } from './noteEdits.js';

/** A note taken along: its onset counts from the start of what was copied. */
export type CopiedNote = Omit<Note, 'id' | 'channel'>;

/** Notes taken along, part by part, in ticks of `ppq`. */
export interface Copied {
  readonly ppq: number;
  /** Where the first of them began. */
  readonly from: number;
  readonly parts: readonly {
    readonly partId: PartId;
    readonly name: string;
    readonly notes: readonly CopiedNote[];
  }[];
}

/** The selected notes, to be taken along; null for none. */
export const copyNotes = (arrangement: Arrangement, selection: Selection): Copied | null => {
  const parts = arrangement.parts.flatMap((part) => {
    const notes = selectedNotes(selection, part);
    return notes.length > 0 ? [{ part, notes }] : [];
  });
  if (parts.length === 0) return null;
  const from = Math.min(...parts.map(({ notes }) => (notes[0] as Note).onset));
  return {
    ppq: arrangement.ppq,
    from,
    parts: parts.map(({ part, notes }) => ({
      partId: part.id,
      name: part.name,
      notes: notes.map(({ id: _, channel: __, ...note }) => ({ ...note, onset: ticks(note.onset - from) })),
    })),
  };
};

/** What a paste made: the Edit, and the new notes as a selection. */
export interface Pasted {
  readonly edit: Edit;
  readonly selection: Selection;
}

/**
 * Into which parts copied ones go: a single one into the front part, several each into its own, known by id and name or by
 * name alone; where a part is not there, or is not in `among`, it goes nowhere.
 */
const partsFor = (
  { parts }: Arrangement,
  copied: Copied,
  front: PartId | null,
  among: ReadonlySet<PartId>,
): readonly (PartId | undefined)[] => {
  if (copied.parts.length === 1) return [front !== null && among.has(front) ? front : undefined];
  return copied.parts.map(({ partId, name }) => {
    const own =
      parts.find((part) => part.id === partId && part.name === name) ?? parts.find((part) => part.name === name);
    return own && among.has(own.id) ? own.id : undefined;
  });
};

/** Notes put into parts as one Edit. */
const withAdded = (
  verb: string,
  arrangement: Arrangement,
  added: ReadonlyMap<PartId, readonly Omit<Note, 'id'>[]>,
): Result<Pasted> => {
  let last = 0;
  for (const notes of added.values()) for (const note of notes) last = Math.max(last, endOf(note));
  const tooLong = beyondLongest(arrangement, last);
  if (tooLong) return failure('too-long', tooLong);
  let nextId = arrangement.nextNoteId;
  const changes: Change[] = [];
  const counts: Parameters<typeof labelFor>[1][number][] = [];
  const selection = new Map<PartId, ReadonlySet<NoteId>>();
  for (const part of arrangement.parts) {
    const notes = (added.get(part.id) ?? []).map((note) => ({ ...note, id: nextId++ }));
    const change = notesChange(part.id, part.notes, [...part.notes, ...notes].sort(compareNotes));
    if (!change) continue;
    changes.push(change);
    counts.push({ part, count: notes.length });
    selection.set(part.id, new Set(notes.map(({ id }) => id)));
  }
  if (changes.length === 0) return failure('nothing', 'There is nothing to put in.');
  return success({ edit: { label: labelFor(verb, counts), changes }, selection });
};

/**
 * Puts copied notes in at a tick. Parts are kept apart where several were copied. Fails, in a musician's words, where no
 * part takes them or the piece would grow beyond all measure; parts that are missing are left out and named by none.
 */
export const pasteNotes = (
  arrangement: Arrangement,
  copied: Copied,
  at: number,
  front: PartId | null,
  among: ReadonlySet<PartId>,
): Result<Pasted> => {
  const into = partsFor(arrangement, copied, front, among);
  const added = new Map<PartId, Omit<Note, 'id'>[]>();
  const own = (value: number) => Math.round(rescaleTicks(value, copied.ppq, arrangement.ppq));
  copied.parts.forEach(({ notes }, index) => {
    const part = into[index] === undefined ? undefined : partById(arrangement, into[index]);
    if (!part) return;
    const list = added.get(part.id) ?? [];
    for (const note of notes) {
      list.push({
        ...note,
        onset: ticks(Math.max(0, Math.round(at) + own(note.onset))),
        duration: ticks(Math.max(1, own(note.duration))),
        channel: part.channel,
      });
    }
    added.set(part.id, list);
  });
  if (added.size === 0) {
    return failure(
      'no-part',
      copied.parts.length === 1
        ? 'The front part is hidden or locked. Show or unlock it to paste.'
        : 'None of the parts that were copied is here, shown and unlocked. Nothing was pasted.',
    );
  }
  return withAdded('Paste', arrangement, added);
};

/** The selected notes once more, so many ticks later (or earlier) and semitones higher, kept within what can be. */
export const duplicateNotes = (
  arrangement: Arrangement,
  selection: Selection,
  byTicks: number,
  bySemitones = 0,
  verb = 'Copy',
): Result<Pasted> => {
  const by = limitMove(allSelected(arrangement, selection), { byTicks, bySemitones });
  const added = new Map(
    arrangement.parts.map((part) => [
      part.id,
      selectedNotes(selection, part).map(({ id: _, ...note }) => ({
        ...note,
        onset: ticks(note.onset + by.byTicks),
        pitch: note.pitch + by.bySemitones,
      })),
    ]),
  );
  return withAdded(verb, arrangement, added);
};

/**
 * Repeats what is selected right after itself, `times` over. It lasts from the beat (or bar) in which it begins to the one
 * in which it ends: a phrase keeps its place in the bar.
 */
export const repeatNotes = (
  arrangement: Arrangement,
  selection: Selection,
  unit: 'beat' | 'bar',
  times = 1,
): Result<Pasted> => {
  const notes = allSelected(arrangement, selection);
  if (notes.length === 0) return failure('nothing', 'Nothing is selected.');
  const start = notes.reduce((first, note) => Math.min(first, note.onset), Number.POSITIVE_INFINITY);
  const end = notes.reduce((last, note) => Math.max(last, endOf(note)), 0);
  const by = lengthToRepeat(arrangement, start, end, unit);
  const problem = beyondLongest(arrangement, end + by * times);
  if (problem) return failure('too-long', problem);
  const added = new Map(
    arrangement.parts.map((part) => [
      part.id,
      Array.from({ length: times }, (_, turn) =>
        selectedNotes(selection, part).map(({ id: _, ...note }) => ({
          ...note,
          onset: ticks(note.onset + by * (turn + 1)),
        })),
      ).flat(),
    ]),
  );
  return withAdded('Repeat', arrangement, added);
};

/** From a place to the end of what is repeated, as whole beats or bars, at least one. A 64th past the line is no beat more. */
const lengthToRepeat = (arrangement: Arrangement, start: number, end: number, unit: 'beat' | 'bar'): number => {
  const { ppq } = arrangement;
  const meterMap = createMeterMap(arrangement.meters, ppq);
  const slack = ppq / 16;
  const bar = meterMap.barAt(start + slack);
  if (unit === 'bar') return meterMap.barAt(Math.max(start + slack, end - slack - 1)).end - bar.start;
  const beat = beatsOfMeter(bar.meter, ppq)[0]?.length ?? ppq;
  const first = bar.start + Math.floor((start + slack - bar.start) / beat) * beat;
  return Math.max(1, Math.ceil((end - slack - first) / beat)) * beat;
};
