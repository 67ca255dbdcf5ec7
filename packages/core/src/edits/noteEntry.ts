/** Notes entered one after another at a place that moves along: by letter, by keys, by a device. Each step is one Edit. */
import type { Arrangement, Note, NoteId, Part, PartId } from '../model/arrangement.js';
import { type Edit, notesChange, overridesChange } from '../model/edit.js';
import type { PageOnlyNote } from '../model/overrides.js';
import { alterInKey, pitchOfSpelling, STEP_NAMES } from '../pitch/spelling.js';
import type { Staff } from '../reading/stepNote.js';
import { rescaleTicks, ticks, WRITTEN_PPQ, type WrittenUnits } from '../time/units.js';
import { labelFor } from './labels.js';
import { ratioOf } from './tuplets.js';

/** The value that notes are entered with. */
export interface EntryValue {
  /** Of a whole note, plain. */
  readonly fraction: number;
  readonly dotted: boolean;
  /** So many in the time of the next fewer by halves; null for plain values. */
  readonly tuplet: number | null;
}

/** How far an entry has come. */
export interface Entry {
  readonly partId: PartId;
  /** Where the next note goes, in ticks. */
  readonly at: number;
  readonly value: EntryValue;
  /** The velocity of notes that come without one. */
  readonly velocity: number;
  /** True where what comes later makes room; false where what stands there goes. */
  readonly inserts: boolean;
  /** True where notes are written and not heard: they stand beside those that sound, which stay. */
  readonly pageOnly: boolean;
  /** The staff that those are written on. */
  readonly staff: Staff;
  /** The notes entered last, for chords, ties and letters. */
  readonly last: { readonly ids: readonly NoteId[]; readonly onset: number; readonly pitch: number } | null;
}

/** What a step of entering does: an Edit where notes change, and how far it came. */
export interface Entered {
  readonly edit: Edit | null;
  readonly entry: Entry;
}

/** How long notes of a value last, in ticks of `ppq` to the quarter. */
export const entryLength = ({ fraction, dotted, tuplet }: EntryValue, ppq: number): number => {
  const ratio = tuplet === null ? null : ratioOf(WRITTEN_PPQ, tuplet);
  return Math.max(1, Math.round(fraction * 4 * ppq * (dotted ? 1.5 : 1) * (ratio ? ratio.normal / ratio.actual : 1)));
};

/** The pitch of a letter in a key, as near as can be to another pitch (a fourth rather than a fifth away). */
export const pitchOfLetter = (letter: string, near: number, fifths: number): number => {
  const step = Math.max(0, STEP_NAMES.indexOf(letter.toUpperCase() as 'C'));
  const base = pitchOfSpelling({ step, alter: alterInKey(fifths, step), octave: -1 });
  const octave = Math.round((near - base) / 12);
  return Math.max(0, Math.min(127, base + octave * 12));
};

const partOf = ({ parts }: Arrangement, id: PartId): Part | undefined => parts.find((part) => part.id === id);

/** The part's notes after room is made from `at` on for so long: moved along, or taken away where they begin in it. */
const withRoom = (notes: readonly Note[], { at, inserts }: Entry, length: number, pitches: readonly number[]): Note[] =>
  notes.flatMap((note): Note[] => {
    if (note.onset >= at && inserts) return [{ ...note, onset: ticks(note.onset + length) }];
    if (note.onset >= at && note.onset < at + length) return [];
    // One pitch does not sound twice at once.
    if (note.onset < at && note.onset + note.duration > at && pitches.includes(note.pitch))
      return [{ ...note, duration: ticks(at - note.onset) }];
    return [note];
  });

const editOf = (part: Part, verb: string, count: number, after: readonly Note[]): Edit | null => {
  const change = notesChange(part.id, part.notes, after);
  return change ? { label: labelFor(verb, [{ part, count }]), changes: [change] } : null;
};

/** A pitch that is entered; where it was struck, how loud. */
export interface Struck {
  readonly pitch: number;
  readonly velocity?: number;
}

/**
 * Enters notes at the entry's place and moves on by their value. As `chord` they join the notes entered last instead, and the
 * place stays.
 */
export const enterNotes = (
  arrangement: Arrangement,
  entry: Entry,
  struck: readonly Struck[],
  chord = false,
): Entered => {
  const part = partOf(arrangement, entry.partId);
  if (!part || struck.length === 0) return { edit: null, entry };
  if (entry.pageOnly) return enterWritten(arrangement, part, entry, struck, chord);
  const { last } = entry;
  const joined = chord && last ? part.notes.filter(({ id }) => last.ids.includes(id)) : [];
  const joins = joined.length > 0;
  const onset = joins ? (joined[0] as Note).onset : ticks(entry.at);
  const duration = joins ? (joined[0] as Note).duration : ticks(entryLength(entry.value, arrangement.ppq));
  const fresh = struck.filter(({ pitch }) => !joined.some((note) => note.pitch === pitch));
  const made = fresh.map(
    ({ pitch, velocity }, index): Note => ({
      id: arrangement.nextNoteId + index,
      pitch,
      onset,
      duration,
      velocity: Math.max(1, Math.min(127, Math.round(velocity ?? entry.velocity))),
      channel: part.channel,
    }),
  );
  const room = joins
    ? part.notes
    : withRoom(
        part.notes,
        entry,
        duration,
        fresh.map(({ pitch }) => pitch),
      );
  const ids = [...joined.map(({ id }) => id), ...made.map(({ id }) => id)];
  const pitch = made[made.length - 1]?.pitch ?? last?.pitch ?? 60;
  return {
    edit: editOf(part, 'Enter', made.length, [...room, ...made]),
    entry: { ...entry, at: joins ? entry.at : entry.at + duration, last: { ids, onset, pitch } },
  };
};

const writtenOnly = ({ overrides }: Part, ids: readonly NoteId[] = []): readonly PageOnlyNote[] =>
  (overrides?.list ?? []).flatMap((own) => (own.kind === 'pageOnly' && ids.includes(own.id) ? [own] : []));

/** Sounding notes that begin or end within a written one, and not as it does, need a voice of their own. */
const voiceFor = (part: Part, onset: number, end: number): number => {
  const beside = part.notes.some((note) => {
    if (note.muted || note.onset >= end || note.onset + note.duration <= onset) return false;
    const near = (end - onset) / 2;
    return Math.abs(note.onset - onset) > near || Math.abs(note.onset + note.duration - end) > near;
  });
  return beside ? 2 : 1;
};

/** Notes for the page alone: nothing that sounds makes room for them. */
const enterWritten = (
  arrangement: Arrangement,
  part: Part,
  entry: Entry,
  struck: readonly Struck[],
  chord: boolean,
): Entered => {
  const { ppq } = arrangement;
  const joined = chord ? writtenOnly(part, entry.last?.ids) : [];
  const [first] = joined;
  const length = entryLength(entry.value, ppq);
  const onset = first?.onset ?? rescaleTicks(entry.at, ppq, WRITTEN_PPQ);
  const duration = first?.duration ?? rescaleTicks(length, ppq, WRITTEN_PPQ);
  const voice = first?.voice ?? voiceFor(part, entry.at, entry.at + length);
  const made = struck
    .filter(({ pitch }) => !joined.some((note) => note.pitch === pitch))
    .map(
      ({ pitch }, index): PageOnlyNote => ({
        kind: 'pageOnly',
        id: arrangement.nextNoteId + index,
        pitch,
        onset: onset as WrittenUnits,
        duration: duration as WrittenUnits,
        voice,
        staff: first?.staff ?? entry.staff,
      }),
    );
  const ids = [...joined, ...made].map(({ id }) => id);
  const pitch = made.at(-1)?.pitch ?? entry.last?.pitch ?? 60;
  const label = labelFor('Write', [{ part, count: made.length }]);
  return {
    edit: made.length > 0 ? { label, changes: [overridesChange(part, made)] } : null,
    entry: { ...entry, at: first ? entry.at : entry.at + length, last: { ids, onset: entry.at, pitch } },
  };
};

/** Changes the written notes entered last; null where there are none. */
const changeWritten = (
  part: Part,
  { last }: Entry,
  verb: string,
  change: (note: PageOnlyNote) => PageOnlyNote,
): Edit | null => {
  const own = writtenOnly(part, last?.ids);
  return own.length === 0
    ? null
    : { label: labelFor(verb, [{ part, count: own.length }]), changes: [overridesChange(part, own.map(change))] };
};

/** Goes on by the value with nothing entered: what stands there goes, or makes room. */
export const enterRest = (arrangement: Arrangement, entry: Entry): Entered => {
  const part = partOf(arrangement, entry.partId);
  const length = entryLength(entry.value, arrangement.ppq);
  return {
    edit: part && !entry.pageOnly ? editOf(part, 'Enter a rest', 1, withRoom(part.notes, entry, length, [])) : null,
    entry: { ...entry, at: entry.at + length, last: null },
  };
};

/** Makes the notes entered last longer by the value, as a tie does. */
export const enterTie = (arrangement: Arrangement, entry: Entry): Entered => {
  const part = partOf(arrangement, entry.partId);
  const { last } = entry;
  if (!part || !last) return { edit: null, entry };
  const length = entryLength(entry.value, arrangement.ppq);
  if (entry.pageOnly) {
    const longer = rescaleTicks(length, arrangement.ppq, WRITTEN_PPQ);
    const edit = changeWritten(part, entry, 'Tie', (note) => ({
      ...note,
      duration: (note.duration + longer) as WrittenUnits,
    }));
    return { edit, entry: { ...entry, at: entry.at + length } };
  }
  const after = withRoom(part.notes, entry, length, []).map((note) =>
    last.ids.includes(note.id) ? { ...note, duration: ticks(entry.at + length - note.onset) } : note,
  );
  return { edit: editOf(part, 'Tie', last.ids.length, after), entry: { ...entry, at: entry.at + length } };
};

/** Moves the notes entered last in pitch. */
export const moveEntered = (arrangement: Arrangement, entry: Entry, by: number): Entered => {
  const part = partOf(arrangement, entry.partId);
  const { last } = entry;
  if (!part || !last) return { edit: null, entry };
  const moved = (pitch: number) => Math.max(0, Math.min(127, pitch + by));
  const after = part.notes.map((note) => (last.ids.includes(note.id) ? { ...note, pitch: moved(note.pitch) } : note));
  return {
    edit: entry.pageOnly
      ? changeWritten(part, entry, 'Transpose', (note) => ({ ...note, pitch: moved(note.pitch) }))
      : editOf(part, 'Transpose', last.ids.length, after),
    entry: { ...entry, last: { ...last, pitch: moved(last.pitch) } },
  };
};

/** Takes away what begins within the value at the entry's place; where notes are inserted, what comes later closes up. */
export const deleteAtEntry = (arrangement: Arrangement, entry: Entry): Entered => {
  const part = partOf(arrangement, entry.partId);
  if (!part) return { edit: null, entry };
  const length = entryLength(entry.value, arrangement.ppq);
  const until = entry.at + length;
  if (entry.pageOnly) {
    const from = rescaleTicks(entry.at, arrangement.ppq, WRITTEN_PPQ);
    const to = rescaleTicks(until, arrangement.ppq, WRITTEN_PPQ);
    const written = (part.overrides?.list ?? []).filter(
      (own) => own.kind === 'pageOnly' && own.onset >= from && own.onset < to,
    );
    const label = labelFor('Delete', [{ part, count: written.length }]);
    return {
      edit: written.length > 0 ? { label, changes: [overridesChange(part, [], written)] } : null,
      entry: { ...entry, last: null },
    };
  }
  const gone = part.notes.filter(({ onset }) => onset >= entry.at && onset < until);
  const after = part.notes
    .filter((note) => !gone.includes(note))
    .map((note) => (entry.inserts && note.onset >= until ? { ...note, onset: ticks(note.onset - length) } : note));
  return { edit: editOf(part, 'Delete', gone.length, after), entry: { ...entry, last: null } };
};
