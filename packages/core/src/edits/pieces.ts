/** Notes cut at a place or on the grid, and chords turned over. */
import { type Arrangement, compareNotes, endOf, type Note, type NoteId, type Part } from '../model/arrangement.js';
import { type Change, type Edit, notesChange } from '../model/edit.js';
import { type Selection, selectedIn } from '../model/selection.js';
import { ticks } from '../time/units.js';
import { editSelected } from './editSelected.js';
import { labelFor } from './labels.js';
import { selectedChords } from './picking.js';

/** Selected notes cut where `cutsOf` says (ticks inside the note, rising); the first piece keeps the id. */
const cutNotes = (
  verb: string,
  arrangement: Arrangement,
  selection: Selection,
  cutsOf: (note: Note) => readonly number[],
): Edit | null => {
  let nextId = arrangement.nextNoteId;
  const changes: Change[] = [];
  const counts: { part: Part; count: number }[] = [];
  for (const part of arrangement.parts) {
    const ids = selectedIn(selection, part.id);
    const madeFrom: [NoteId, NoteId][] = [];
    let cut = 0;
    const notes = part.notes.flatMap((note) => {
      const cuts = ids.has(note.id) ? cutsOf(note).filter((at) => at > note.onset && at < endOf(note)) : [];
      if (cuts.length === 0) return note;
      cut += 1;
      const places = [note.onset, ...cuts, endOf(note)];
      return places.slice(0, -1).map((start, piece): Note => {
        const id = piece === 0 ? note.id : nextId++;
        if (piece > 0) madeFrom.push([id, note.id]);
        return { ...note, id, onset: ticks(start), duration: ticks((places[piece + 1] as number) - start) };
      });
    });
    const change = notesChange(part.id, part.notes, [...notes].sort(compareNotes));
    if (!change) continue;
    changes.push({ ...change, madeFrom });
    counts.push({ part, count: cut });
  }
  return changes.length === 0 ? null : { label: labelFor(verb, counts), changes };
};

/** Cuts selected notes that sound at a tick in two there; null where none does. */
export const splitNotesAt = (arrangement: Arrangement, selection: Selection, tick: number): Edit | null =>
  cutNotes('Split', arrangement, selection, () => [Math.round(tick)]);

/** Cuts selected notes at each line of a grid of `unit` ticks that begins anew with each bar; null where none is crossed. */
export const splitNotesOnGrid = (
  arrangement: Arrangement,
  selection: Selection,
  unit: number,
  barAt: (tick: number) => { readonly start: number; readonly end: number },
): Edit | null => {
  if (unit < 1) return null;
  return cutNotes('Split on the grid', arrangement, selection, (note) => {
    const cuts: number[] = [];
    for (let bar = barAt(note.onset); bar.start < endOf(note); bar = barAt(bar.end)) {
      for (let line = bar.start; line < Math.min(bar.end, endOf(note)); line += unit) {
        if (line > note.onset) cuts.push(Math.round(line));
      }
    }
    return cuts;
  });
};

/**
 * Turns chords over: the lowest tone goes up by octaves until it is the highest, or the highest down. Single notes move by
 * an octave. What would leave the pitches that MIDI has stays. Chords are those within each part.
 */
export const invertChords = (arrangement: Arrangement, selection: Selection, direction: 'up' | 'down'): Edit | null => {
  const moved = new Map<Note, number>();
  for (const part of arrangement.parts) {
    for (const chord of selectedChords(arrangement, part, selection)) {
      const byPitch = [...chord].sort((a, b) => a.pitch - b.pitch);
      const [low, high] = [byPitch[0] as Note, byPitch[byPitch.length - 1] as Note];
      const span = Math.max(1, Math.ceil((high.pitch - low.pitch + (chord.length > 1 ? 1 : 0)) / 12));
      const pitch = direction === 'up' ? low.pitch + 12 * span : high.pitch - 12 * span;
      if (pitch >= 0 && pitch <= 127) moved.set(direction === 'up' ? low : high, pitch);
    }
  }
  return editSelected(
    direction === 'up' ? 'Turn chords upward' : 'Turn chords downward',
    arrangement,
    selection,
    (note) => ({
      ...note,
      pitch: moved.get(note) ?? note.pitch,
    }),
  );
};
