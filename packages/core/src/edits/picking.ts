/** Ways of picking notes by what is selected: of the same pitch, on the same beat, from here on, by their place in a chord. */
import { type Arrangement, endOf, type Note, type Part } from '../model/arrangement.js';
import { type Selection, selectedNotes, selectionWhere } from '../model/selection.js';
import { chordWindow, startGroups } from '../reading/startGroups.js';
import { createMeterMap } from '../time/meterMap.js';
import { firstIndexAtOrAfter } from '../time/search.js';
import { createTempoMap } from '../time/tempoMap.js';
import { allSelected } from './editSelected.js';

/** All notes of some parts that have a pitch of one of those selected in any part; O(n). */
export const samePitches = (arrangement: Arrangement, selection: Selection, among: readonly Part[]): Selection => {
  const pitches = new Set(allSelected(arrangement, selection).map((note) => note.pitch));
  return selectionWhere(among, (note) => pitches.has(note.pitch));
};

/** All notes of some parts that have the pitch class of one of those selected, in any octave. */
export const samePitchClasses = (arrangement: Arrangement, selection: Selection, among: readonly Part[]): Selection => {
  const classes = new Set(allSelected(arrangement, selection).map((note) => note.pitch % 12));
  return selectionWhere(among, (note) => classes.has(note.pitch % 12));
};

/** All notes of some parts that begin at a tick or later. */
export const fromHereOn = (tick: number, among: readonly Part[]): Selection =>
  selectionWhere(among, (note) => note.onset >= tick);

/**
 * All notes of some parts that begin where in their bar one of those selected does, to within half the given grid (ticks).
 * A note shortly before a bar line belongs to the line.
 */
export const sameBeats = (
  arrangement: Arrangement,
  selection: Selection,
  among: readonly Part[],
  grid: number,
): Selection => {
  const meterMap = createMeterMap(arrangement.meters, arrangement.ppq);
  const placeOf = (note: Note): number => {
    const bar = meterMap.barAt(note.onset);
    const line = Math.round((note.onset - bar.start) / grid);
    return bar.start + line * grid >= bar.end ? 0 : line;
  };
  const places = new Set(allSelected(arrangement, selection).map(placeOf));
  return selectionWhere(among, (note) => places.has(placeOf(note)));
};

/** Of notes in order of onset, those that sound together with another of the same pitch. */
export const overlappingNotes = (notes: readonly Note[]): ReadonlySet<Note> => {
  const found = new Set<Note>();
  const sounding = new Map<number, Note>();
  for (const note of notes) {
    const before = sounding.get(note.pitch);
    if (before && endOf(before) > note.onset) found.add(before).add(note);
    if (!before || endOf(note) > endOf(before)) sounding.set(note.pitch, note);
  }
  return found;
};

/** All notes of some parts that sound together with another of the same pitch in the same part. */
export const overlapping = (among: readonly Part[]): Selection => {
  const found = new Map(among.map((part) => [part.id, overlappingNotes(part.notes)]));
  return selectionWhere(among, (note, part) => found.get(part.id)?.has(note) ?? false);
};

/** A place in a chord. */
export type ChordPlace = 'top' | 'bottom' | 'inner';

/** Chords among the selected notes of a part, as the steps and findings know them; single notes are chords of one. */
export const selectedChords = (arrangement: Arrangement, part: Part, selection: Selection): readonly Note[][] => {
  const { ppq, tempos } = arrangement;
  return startGroups(selectedNotes(selection, part), chordWindow({ ppq, tempoMap: createTempoMap(tempos, ppq) }));
};

/** Of the selected notes of each part, those with a place in their chord; single notes have none. */
export const chordTones = (arrangement: Arrangement, selection: Selection, place: ChordPlace): Selection => {
  const picked = new Set<Note>();
  for (const part of arrangement.parts) {
    for (const group of selectedChords(arrangement, part, selection)) {
      if (group.length < 2) continue;
      const chord = [...group].sort((a, b) => a.pitch - b.pitch);
      const tones = place === 'top' ? chord.slice(-1) : place === 'bottom' ? chord.slice(0, 1) : chord.slice(1, -1);
      for (const tone of tones) picked.add(tone);
    }
  }
  return selectionWhere(arrangement.parts, (note) => picked.has(note));
};

/** Notes of a part whose start lies within so many ticks of a tick. */
export const startingNear = (notes: readonly Note[], tick: number, within: number): readonly Note[] => {
  const found: Note[] = [];
  const from = firstIndexAtOrAfter(notes, tick - within, (note) => note.onset);
  for (let at = from; at < notes.length && (notes[at] as Note).onset <= tick + within; at += 1) {
    found.push(notes[at] as Note);
  }
  return found;
};
