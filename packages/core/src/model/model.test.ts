import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deleteNotes, drawNote, limitMove, moveNotes, moveSharedEdge, trimNotes } from '../edits/noteEdits.js';
import { arrangementWith, note, partWith, placesOf } from '../testing/kit.js';
import type { Arrangement, Note } from './arrangement.js';
import { applyEdit, type Edit, invertEdit, notesChange, notesTouched } from './edit.js';
import {
  applyJournalEntry,
  EMPTY_HISTORY,
  entryAt,
  historyLength,
  type JournalEntry,
  withOlderEntries,
} from './history.js';
import { NOTHING, selectionOf } from './selection.js';

const first = note(60, 0, 480);
const second = note(62, 480, 480);
const base = arrangementWith([partWith([first, second])]);
const ids = (...notes: Note[]) =>
  selectionOf(
    1,
    notes.map((n) => n.id),
  );
const notesOf = (arrangement: Arrangement) => placesOf(arrangement.parts[0]?.notes ?? []);
const after = (edit: Edit | null): string[] => notesOf(edit ? applyEdit(base, edit) : base);

describe('Edit', () => {
  it('is taken back by its inverse, whatever it holds', () => {
    const part = partWith([note(70, 0, 10)], { id: 2, name: 'Oboe' });
    const edits: Edit[] = [
      { label: 'Add', changes: [{ kind: 'partAdded', index: 0, part }] },
      { label: 'Take out', changes: [{ kind: 'partRemoved', index: 0, part: base.parts[0] as never }] },
      {
        label: 'Name',
        changes: [{ kind: 'partFields', partId: 1, before: { name: 'Flute' }, after: { name: 'Piccolo' } }],
      },
      {
        label: 'Title',
        changes: [{ kind: 'arrangementFields', before: { title: base.title }, after: { title: 'Other' } }],
      },
    ];
    for (const edit of edits) {
      const changed = applyEdit(base, edit);
      expect(changed).not.toEqual(base);
      expect(applyEdit(changed, invertEdit(edit)).parts).toEqual(base.parts);
      expect(applyEdit(changed, invertEdit(edit)).title).toBe(base.title);
    }
  });

  it('leads from any notes to any others and back', () => {
    const some = fc.uniqueArray(
      fc.record({ id: fc.integer({ min: 1, max: 30 }), pitch: fc.integer({ min: 0, max: 127 }) }),
      {
        selector: (n) => n.id,
        maxLength: 20,
      },
    );
    fc.assert(
      fc.property(some, some, (before, wanted) => {
        const make = (list: { id: number; pitch: number }[]) =>
          list.map(({ id, pitch }) => note(pitch, id * 10, 10, { id })).sort((a, b) => a.onset - b.onset);
        const start = arrangementWith([partWith(make(before))]);
        const change = notesChange(1, make(before), make(wanted));
        const edit = { label: 'Change', changes: change ? [change] : [] };
        const changed = applyEdit(start, edit);
        expect(changed.parts[0]?.notes).toEqual(make(wanted));
        expect(applyEdit(changed, invertEdit(edit)).parts[0]?.notes).toEqual(make(before));
      }),
    );
  });

  it('passes over notes that another window has taken out', () => {
    const edit = moveNotes(base, ids(first, second), { byTicks: 10, bySemitones: 0 }) as Edit;
    const without = applyEdit(base, deleteNotes(base, ids(first)) as Edit);
    expect(notesOf(applyEdit(without, edit))).toEqual(['62 490+480']);
  });

  it('never gives an id twice', () => {
    const edit = drawNote(base, 1, { pitch: 64, onset: 0, duration: 10, velocity: 80 }) as Edit;
    const changed = applyEdit(base, edit);
    expect(changed.nextNoteId).toBe(base.nextNoteId + 1);
    expect(applyEdit(changed, invertEdit(edit)).nextNoteId).toBe(base.nextNoteId + 1);
  });
});

describe('changes by hand', () => {
  it('move notes in time and pitch, and say so', () => {
    const edit = moveNotes(base, ids(first), { byTicks: 120, bySemitones: 12 });
    expect(edit?.label).toBe('Move: 1 note in Flute');
    expect(after(edit)).toEqual(['72 120+480', '62 480+480']);
    expect(moveNotes(base, ids(first, second), { byTicks: 0, bySemitones: -1 })?.label).toBe(
      'Transpose: 2 notes in Flute',
    );
  });

  it('keep a move within what can be', () => {
    expect(limitMove([first, second], { byTicks: -100, bySemitones: 100 })).toEqual({ byTicks: 0, bySemitones: 65 });
    expect(moveNotes(base, ids(first), { byTicks: -50, bySemitones: 0 })).toBeNull();
  });

  it('trim either edge, leaving at least one tick', () => {
    expect(after(trimNotes(base, ids(first), 'end', -1000))).toEqual(['60 0+1', '62 480+480']);
    expect(after(trimNotes(base, ids(second), 'start', 1000))).toEqual(['60 0+480', '62 959+1']);
    expect(after(trimNotes(base, ids(second), 'start', -80))).toEqual(['60 0+480', '62 400+560']);
  });

  it('move the edge that two notes share as one', () => {
    expect(after(moveSharedEdge(base, 1, first.id, second.id, 520))).toEqual(['60 0+520', '62 520+440']);
    expect(after(moveSharedEdge(base, 1, first.id, second.id, 9999))).toEqual(['60 0+959', '62 959+1']);
  });

  it('draw and delete', () => {
    expect(after(drawNote(base, 1, { pitch: 64, onset: 100, duration: 0, velocity: 200 }))).toContain('64 100+1');
    expect(after(deleteNotes(base, ids(first)))).toEqual(['62 480+480']);
    expect(deleteNotes(base, NOTHING)).toBeNull();
    expect(deleteNotes(base, selectionOf(99, [first.id]))).toBeNull();
  });
});

describe('history', () => {
  const move = (by: number): JournalEntry => ({
    kind: 'edit',
    edit: moveNotes(base, ids(first), { byTicks: by, bySemitones: 0 }) as Edit,
  });
  const start = { arrangement: base, history: EMPTY_HISTORY };
  const run = (...entries: JournalEntry[]) => entries.reduce(applyJournalEntry, start);

  it('goes back and forth by name', () => {
    const moved = run(move(10), { kind: 'goTo', position: 0 });
    expect(notesOf(moved.arrangement)).toEqual(notesOf(base));
    expect(moved.history.entries.map((edit) => edit.label)).toEqual(['Move: 1 note in Flute']);
    expect(notesOf(run(move(10), { kind: 'goTo', position: 0 }, { kind: 'goTo', position: 1 }).arrangement)[0]).toBe(
      '60 10+480',
    );
  });

  it('drops what was undone when something new is done', () => {
    const { history } = run(move(10), { kind: 'goTo', position: 0 }, move(20));
    expect(history).toMatchObject({ position: 1 });
    expect(history.entries).toHaveLength(1);
  });

  it('keeps a position within its entries', () => {
    expect(run(move(10), { kind: 'goTo', position: 99 }).history.position).toBe(1);
  });

  it('keeps a position within the entries at hand, and takes older ones in', () => {
    const edit = (by: number) => moveNotes(base, ids(first), { byTicks: by, bySemitones: 0 }) as Edit;
    const moved = applyEdit(applyEdit(base, edit(10)), { ...edit(10), label: 'second' });
    const history = { entries: [{ ...edit(10), label: 'second' }], position: 2, skipped: 1 };
    expect(applyJournalEntry({ arrangement: moved, history }, { kind: 'goTo', position: 0 }).history.position).toBe(1);
    const whole = withOlderEntries(history, [edit(10)]);
    expect(historyLength(whole)).toBe(2);
    expect(entryAt(whole, 1)?.label).toBe('second');
    expect(
      applyJournalEntry({ arrangement: moved, history: whole }, { kind: 'goTo', position: 0 }).history.position,
    ).toBe(0);
    const next = applyJournalEntry({ arrangement: moved, history }, { kind: 'edit', edit: edit(3) }).history;
    expect(next).toMatchObject({ position: 3, skipped: 1 });
  });

  it('counts the notes an edit touches', () => {
    expect(notesTouched(moveNotes(base, ids(first, second), { byTicks: 10, bySemitones: 0 }) as Edit)).toBe(2);
  });
});
