/** Lays a person's corrections on the Written notes that a plan made. Spellings are laid on where pitches are read. */
import { compareNotes, type NoteId } from '../model/arrangement.js';
import type { HeardTone, NoteSigns } from '../model/noteSigns.js';
import type { NoteOverride, Override, Overrides, PageOnlyNote } from '../model/overrides.js';
import type { WrittenUnits } from '../time/units.js';
import type { WrittenNote } from './written.js';

const units = (value: number): WrittenUnits => value as WrittenUnits;

const withRolled = ({ rolled: _, ...note }: WrittenNote, on: boolean): WrittenNote =>
  on ? { ...note, rolled: true } : note;

const withSigns = (note: WrittenNote, signs: NoteSigns | undefined): WrittenNote => {
  if (signs === note.signs) return note;
  const { signs: _, ...plain } = note;
  return signs ? { ...plain, signs } : plain;
};

const corrected = (note: WrittenNote, override: NoteOverride): WrittenNote | null => {
  switch (override.kind) {
    case 'voice':
      return { ...note, voice: override.voice };
    case 'staff':
      return { ...note, staff: override.staff };
    case 'staccato':
      return { ...note, staccato: override.on };
    // Both are laid on together, in `placedByHand`.
    case 'writtenStart':
    case 'writtenEnd':
      return note;
    case 'held':
      return withSigns(note, override.signs);
    case 'soundOnly':
      return null;
    case 'mark':
      return override.mark === 'arpeggio' ? withRolled(note, override.on) : note;
    // These are of the page's signs: `notation` lays them on.
    case 'spelling':
    case 'notehead':
    case 'stem':
    case 'beam':
    case 'tie':
    case 'tuplet':
    case 'grace':
    case 'slur':
    case 'glissando':
    case 'pedal':
    case 'hairpin':
    case 'dynamic':
    case 'words':
    case 'way':
      return note;
    default:
      return override satisfies never;
  }
};

const asWritten = ({ id, pitch, onset, duration, voice, staff }: PageOnlyNote, channel: number): WrittenNote => ({
  id,
  sources: [],
  pitch,
  onset,
  duration,
  velocity: 80,
  channel,
  staccato: false,
  voice,
  staff,
});

/** The note where a person has it begin and end: two places, whatever the plan makes of it; never without length. */
const placedByHand = (note: WrittenNote, list: readonly NoteOverride[]): WrittenNote => {
  let start: number | null = null;
  let end: number | null = null;
  for (const override of list) {
    if (override.kind === 'writtenStart') start = override.at;
    else if (override.kind === 'writtenEnd') end = override.at;
  }
  if (start === null && end === null) return note;
  const to = end ?? note.onset + note.duration;
  // An end that a person set holds; a start alone never reaches the end that the plan made.
  const from = start === null ? note.onset : end === null ? Math.min(start, to - 1) : start;
  return { ...note, onset: units(from), duration: units(Math.max(1, to - from)) };
};

interface SortedOut {
  readonly own: ReadonlyMap<NoteId, readonly NoteOverride[]>;
  readonly pageOnly: readonly PageOnlyNote[];
  /** The notes that grace notes made by hand belong to, by the grace note. */
  readonly goesTo: ReadonlyMap<NoteId, NoteId>;
  /** The tones that held signs stand for: they are no notes of their own, whatever the plan makes of them now. */
  readonly tonesHeld: ReadonlySet<NoteId>;
}

const known = new WeakMap<readonly Override[], SortedOut>();

/** Corrections by their notes, once for each list: a score read in has several for every note. */
const sortedOut = (list: readonly Override[]): SortedOut => {
  let made = known.get(list);
  if (made) return made;
  const own = new Map<NoteId, NoteOverride[]>();
  const pageOnly: PageOnlyNote[] = [];
  const goesTo = new Map<NoteId, NoteId>();
  const tonesHeld = new Set<NoteId>();
  for (const override of list) {
    if (override.kind === 'grace' && override.to !== override.noteId) goesTo.set(override.noteId, override.to);
    else if (override.kind === 'held')
      for (const tone of [...(override.signs?.graces ?? []), ...(override.signs?.tones ?? [])])
        if (tone.id !== override.noteId) tonesHeld.add(tone.id);
    if (override.kind === 'pageOnly') pageOnly.push(override);
    else if ('noteId' in override) {
      const of = own.get(override.noteId);
      if (of) of.push(override);
      else own.set(override.noteId, [override]);
    }
  }
  made = { own, pageOnly, goesTo, tonesHeld };
  known.set(list, made);
  return made;
};

/**
 * Notes that a person has written as grace notes go to the note that each belongs to, as far as both are there. Of those that
 * the plan reads as grace notes too, `planned` has the tones.
 */
const withGraces = (
  notes: readonly WrittenNote[],
  planned: readonly WrittenNote[],
  goesTo: SortedOut['goesTo'],
): readonly WrittenNote[] => {
  if (goesTo.size === 0) return notes;
  const mains = new Map(notes.flatMap((note) => (goesTo.has(note.id) ? [] : [[note.id, note] as const])));
  const graces = new Map<NoteId, HeardTone[]>();
  const give = (to: NoteId, tone: HeardTone) => graces.set(to, [...(graces.get(to) ?? []), tone]);
  for (const { signs } of planned) {
    for (const tone of signs?.graces ?? []) {
      const to = goesTo.get(tone.id);
      const main = to === undefined ? undefined : mains.get(to);
      if (main && !main.signs?.graces?.some(({ id }) => id === tone.id)) give(main.id, tone);
    }
  }
  const rest = notes.filter(({ id, pitch, velocity, onset, duration }) => {
    const main = mains.get(goesTo.get(id) ?? id);
    if (!goesTo.has(id) || !main) return true;
    give(main.id, { id, pitch, velocity, at: Math.min(-1, onset - main.onset), duration });
    return false;
  });
  return rest.map((note) => {
    const before = graces.get(note.id);
    return before ? { ...note, signs: { ...note.signs, graces: [...(note.signs?.graces ?? []), ...before] } } : note;
  });
};

/** The notes as corrected, in order. Corrections of notes that the plan no longer makes wait until it makes them again. */
export const withOverrides = (
  notes: readonly WrittenNote[],
  overrides: Overrides | undefined,
  channel: number,
): readonly WrittenNote[] => {
  if (!overrides || overrides.list.length === 0) return notes;
  const { own, pageOnly, goesTo, tonesHeld } = sortedOut(overrides.list);
  const result = notes.flatMap((note) => {
    if (tonesHeld.has(note.id)) return [];
    let now: WrittenNote | null = note;
    const list = own.get(note.id);
    if (!list) return [note];
    for (const override of list) now = now && corrected(now, override);
    return now ? [placedByHand(now, list)] : [];
  });
  return [...withGraces(result, notes, goesTo), ...pageOnly.map((note) => asWritten(note, channel))].sort(compareNotes);
};
