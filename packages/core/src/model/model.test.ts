import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deleteNotes, drawNote, limitMove, moveNotes, trimNotes } from '../edits/noteEdits.js';
import { stepEdit } from '../edits/stepEdit.js';
import { splitEvenly } from '../steps/split.js';
import { arrangementWith, note, partWith, pedal, placesOf } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import type { Arrangement, Note, Part } from './arrangement.js';
import { applyEdit, type Edit, eventsChange, invertEdit, notesChange, notesTouched, overridesChange } from './edit.js';
import {
  applyJournalEntry,
  EMPTY_HISTORY,
  entryAt,
  historyEntry,
  historyLength,
  type JournalEntry,
  withOlderEntries,
} from './history.js';
import {
  mapSelection,
  NOTHING,
  selectedIn,
  selectionOf,
  selectionSize,
  selectionWithin,
  toggledIn,
  turnedRound,
  withSelectedIn,
} from './selection.js';
import { upgradeArrangement, upgradeEntry } from './stored.js';

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
    const history = { entries: [historyEntry({ ...edit(10), label: 'second' })], position: 2, skipped: 1 };
    expect(applyJournalEntry({ arrangement: moved, history }, { kind: 'goTo', position: 0 }).history.position).toBe(1);
    const whole = withOlderEntries(history, [historyEntry(edit(10))]);
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

describe('an Edit laid on again', () => {
  const three = arrangementWith([
    partWith([first]),
    partWith([second], { id: 2, name: 'Oboe' }),
    partWith([note(70, 0, 10)], { id: 3, name: 'Horn' }),
  ]);

  it('puts a part that was taken out back in its place', () => {
    const part = three.parts[1] as Part;
    const edit: Edit = { label: 'Take out', changes: [{ kind: 'partRemoved', index: 1, part }] };
    const without = applyEdit(three, edit);
    expect(without.parts.map(({ id }) => id)).toEqual([1, 3]);
    expect(applyEdit(without, invertEdit(edit)).parts.map(({ id }) => id)).toEqual([1, 2, 3]);
  });

  it('adds no note and no part twice', () => {
    const drawn = drawNote(base, 1, { pitch: 64, onset: 0, duration: 10, velocity: 80 }) as Edit;
    const once = applyEdit(base, drawn);
    expect(applyEdit(once, drawn).parts[0]?.notes).toEqual(once.parts[0]?.notes);
    const added: Edit = { label: 'Add', changes: [{ kind: 'partAdded', index: 0, part: three.parts[1] as Part }] };
    expect(applyEdit(three, added)).toBe(three);
  });

  it('takes several changes back in the reverse order', () => {
    const change = (before: string, after: string) => ({
      kind: 'arrangementFields' as const,
      before: { title: before },
      after: { title: after },
    });
    const edit: Edit = { label: 'Twice', changes: [change(base.title, 'a'), change('a', 'b')] };
    expect(applyEdit(base, edit).title).toBe('b');
    expect(applyEdit(applyEdit(base, edit), invertEdit(edit)).title).toBe(base.title);
  });

  it('takes a field away that was not there before, though JSON keeps no such field', () => {
    const plan = { vetoes: [{ noteId: 1, step: 'merge' as const }] };
    const edit: Edit = { label: 'Veto', changes: [{ kind: 'partFields', partId: 1, before: {}, after: plan }] };
    const stored = JSON.parse(JSON.stringify(invertEdit(edit))) as Edit;
    expect(applyEdit(applyEdit(base, edit), stored).parts[0]?.vetoes).toBeUndefined();
  });

  it('raises the next ids past whatever it brings', () => {
    const part = partWith([note(60, 0, 10, { id: 900 })], {
      id: 77,
      events: pedal(5, 10).map((e) => ({ ...e, id: e.id + 500 })),
    });
    const added = applyEdit(base, { label: 'Add', changes: [{ kind: 'partAdded', index: 9, part }] });
    expect(added).toMatchObject({ nextNoteId: 901, nextPartId: 78, nextEventId: 503 });
    expect(added.parts.at(-1)?.id).toBe(77);
  });
});

describe('events of a part', () => {
  const events = pedal(100, 200, 300, 400);
  const pedalled = arrangementWith([partWith([first], { events })]);

  it('change by id: what differs is written, and is taken back', () => {
    const after = events.slice(1).map((event) => (event.id === 3 ? { ...event, tick: ticks(150) } : event));
    const change = eventsChange(1, events, after);
    expect(change).toMatchObject({
      removed: [{ id: 1 }],
      added: [],
      changed: [{ before: { id: 3 }, after: { tick: 150 } }],
    });
    const edit = { label: 'Pedal', changes: change ? [change] : [] };
    const changed = applyEdit(pedalled, edit);
    expect(changed.parts[0]?.events.map(({ id }) => id)).toEqual([3, 2, 4]);
    expect(applyEdit(changed, invertEdit(edit)).parts).toEqual(pedalled.parts);
    expect(
      eventsChange(
        1,
        events,
        [...events].map((event) => ({ ...event })),
      ),
    ).toBeUndefined();
  });

  it('that are new raise the next id', () => {
    const added = { ...(events[0] as (typeof events)[number]), id: 40, tick: ticks(250) };
    const change = { kind: 'events', partId: 1, added: [added], removed: [], changed: [] } as const;
    const changed = applyEdit(pedalled, { label: 'Add', changes: [change] });
    expect(changed.nextEventId).toBe(41);
    expect(changed.parts[0]?.events.map(({ tick }) => tick)).toEqual([100, 200, 250, 300, 400]);
  });
});

describe('a selection', () => {
  const part = base.parts[0] as Part;
  const both = ids(first, second);

  it('takes in and gives up notes of any part', () => {
    expect(toggledIn(both, ids(first))).toEqual(ids(second));
    expect(toggledIn(ids(first), selectionOf(2, [9]))).toEqual(
      new Map([
        [1, new Set([first.id])],
        [2, new Set([9])],
      ]),
    );
    expect(toggledIn(ids(first), ids(first))).toBe(NOTHING);
    expect(withSelectedIn(NOTHING, 3, new Set([1]))).toEqual(selectionOf(3, [1]));
    expect(
      selectionSize(
        new Map([
          [1, new Set([1, 2])],
          [2, new Set([3])],
        ]),
      ),
    ).toBe(3);
    expect(selectedIn(both, 9).size).toBe(0);
    expect(selectionOf(1, [])).toBe(NOTHING);
  });

  it('loses what an Edit takes out, and takes in what was made from its notes', () => {
    const { edit } = stepEdit(base, ids(first), 'splitEvenly', { value: { unit: 'ticks', value: 240 } });
    const made = applyEdit(base, edit as Edit).parts[0]?.notes.filter(({ pitch }) => pitch === 60) ?? [];
    expect(made).toHaveLength(2);
    expect(mapSelection(ids(first), edit as Edit)).toEqual(ids(...made));
    expect(mapSelection(ids(second), edit as Edit)).toEqual(ids(second));
    expect(mapSelection(both, deleteNotes(base, ids(first)) as Edit)).toEqual(ids(second));
    const moved = moveNotes(base, both, { byTicks: 5, bySemitones: 0 }) as Edit;
    expect(mapSelection(both, moved)).toBe(both);
    const gone: Edit = { label: 'Take out', changes: [{ kind: 'partRemoved', index: 0, part }] };
    expect(mapSelection(both, gone)).toBe(NOTHING);
    expect(splitEvenly.once).toBe(true);
  });

  it('keeps to what is there', () => {
    expect(selectionWithin(both, base)).toBe(both);
    expect(selectionWithin(selectionOf(1, [first.id, 999]), base)).toEqual(ids(first));
    expect(selectionWithin(selectionOf(9, [first.id]), base)).toBe(NOTHING);
  });

  it('turns round', () => {
    const notes = [note(60, 0, 10), note(62, 20, 10), note(60, 40, 10)];
    const some = partWith(notes);
    expect(turnedRound(ids(notes[0] as Note), [some])).toEqual(ids(notes[1] as Note, notes[2] as Note));
  });
});

describe('a correction in an Edit', () => {
  it('takes the place of one of its kind on the same note, and no other', () => {
    const part = base.parts[0] as Part;
    const put = overridesChange(part, [
      { kind: 'voice', noteId: first.id, voice: 2 },
      { kind: 'systemBreak', bar: 3 },
    ]);
    const changed = applyEdit(base, { label: 'x', changes: [put] });
    const again = overridesChange(changed.parts[0] as Part, [
      { kind: 'voice', noteId: first.id, voice: 1 },
      { kind: 'voice', noteId: second.id, voice: 2 },
    ]);
    expect(again.changed).toHaveLength(1);
    expect(again.added).toEqual([{ kind: 'voice', noteId: second.id, voice: 2 }]);
    const whole = applyEdit(changed, { label: 'y', changes: [again] });
    expect(whole.parts[0]?.overrides?.list).toHaveLength(3);
    expect(applyEdit(whole, invertEdit({ label: 'y', changes: [again] }))).toEqual(changed);
  });
});

describe('changes over several parts', () => {
  const low = note(5, 0, 100);
  const oboe = note(90, 0, 1);
  const two = arrangementWith([partWith([low, note(60, 200, 100)]), partWith([oboe], { id: 2, name: 'Oboe' })]);
  const all = new Map([
    [1, new Set(two.parts[0]?.notes.map(({ id }) => id))],
    [2, new Set([oboe.id])],
  ]);

  it('are one Edit that names what was done in which part, and only where something was', () => {
    expect(deleteNotes(two, all)?.label).toBe('Delete: 2 notes in Flute, 1 in Oboe');
    expect(trimNotes(two, all, 'end', -50)?.label).toBe('Trim ends: 2 notes in Flute');
    expect(trimNotes(two, all, 'end', -50)?.changes).toHaveLength(1);
  });

  it('keep all notes within what can be, the lowest and the highest of them', () => {
    const notes = two.parts.flatMap((part) => part.notes);
    expect(limitMove(notes, { byTicks: 0, bySemitones: -20 }).bySemitones).toBe(-5);
    expect(limitMove(notes, { byTicks: 0, bySemitones: 60 }).bySemitones).toBe(37);
    expect(limitMove([], { byTicks: 5, bySemitones: 5 })).toEqual({ byTicks: 0, bySemitones: 0 });
  });

  it('see a note that is silenced or let go otherwise as another', () => {
    const muted = { ...low, muted: true };
    expect(notesChange(1, [low], [muted])?.changed).toHaveLength(1);
    expect(notesChange(1, [{ ...low, muted: false }], [low])).toBeUndefined();
    expect(notesChange(1, [low], [{ ...low, releaseVelocity: 3 }])?.changed).toHaveLength(1);
    for (const key of ['pitch', 'onset', 'duration', 'velocity', 'channel'] as const) {
      expect(notesChange(1, [low], [{ ...low, [key]: low[key] + 1 }])?.changed).toHaveLength(1);
    }
  });

  it('leave a selection the very same where they touch none of it', () => {
    const selection = selectionOf(1, [low.id]);
    expect(mapSelection(selection, deleteNotes(two, selectionOf(1, [two.parts[0]?.notes[1]?.id ?? 0])) as Edit)).toBe(
      selection,
    );
  });
});

describe('what was stored in an earlier form', () => {
  const events = pedal(0, 100, 200, 300).map(({ id: _, ...event }) => event);
  const { nextEventId: _next, ...header } = arrangementWith([partWith([first], { events: pedal(0, 100, 200, 300) })]);
  const old = { ...header, parts: header.parts.map((part) => ({ ...part, events })) };
  const now = upgradeArrangement(old);
  const entry = (...changes: unknown[]) => ({ kind: 'edit', edit: { label: 'Old', changes } }) as never;
  const upgraded = (...changes: unknown[]) => {
    const line = upgradeEntry(entry(...changes), now);
    return line.kind === 'edit' ? line.edit.changes : [];
  };

  it('gets ids for its events, in their order', () => {
    expect(now.parts[0]?.events.map(({ id, tick }) => [id, tick])).toEqual([
      [1, 0],
      [2, 100],
      [3, 200],
      [4, 300],
    ]);
    expect(now.nextEventId).toBe(5);
  });

  it('has lists written twice turned into what differs, known again by what they say', () => {
    const [kept, ...more] = upgraded({
      kind: 'partFields',
      partId: 1,
      before: { events },
      after: { events: [...events.slice(2), { ...events[0], tick: 900 }] },
    });
    expect(more).toEqual([]);
    expect(kept).toMatchObject({
      kind: 'events',
      partId: 1,
      removed: [{ id: 1 }, { id: 2 }],
      added: [{ id: 5, tick: 900 }],
      changed: [],
    });
  });

  it('keeps other fields beside them, and leaves a part alone that is not there', () => {
    const both = upgraded({
      kind: 'partFields',
      partId: 1,
      before: { events, name: 'A' },
      after: { events: events.slice(1), name: 'B' },
    });
    expect(both).toMatchObject([
      { kind: 'partFields', before: { name: 'A' }, after: { name: 'B' } },
      { kind: 'events', removed: [{ id: 1 }] },
    ]);
    expect(upgraded({ kind: 'partFields', partId: 9, before: { events }, after: { events: [] } })).toHaveLength(1);
  });

  it('has parts that come and go with ids, and their plans of today’s version', () => {
    const trim = { step: 'trimOverlaps', on: true, parameters: { against: 'nextChord', leave: 0 } };
    const merge = { step: 'merge', on: true, parameters: { gap: null, velocity: 'first' } };
    const plan = {
      version: 2,
      name: 'Old',
      steps: [trim, merge],
      passages: [{ firstBar: 1, lastBar: 2, steps: [trim] }],
    };
    const [added] = upgraded({ kind: 'partAdded', index: 1, part: { ...old.parts[0], id: 2, plan } });
    expect(added).toMatchObject({
      kind: 'partAdded',
      part: {
        events: [{ id: 5 }, { id: 6 }, { id: 7 }, { id: 8 }],
        plan: {
          version: 3,
          steps: [{ parameters: { against: 'anyPitch' } }, merge],
          passages: [{ steps: [{ parameters: { against: 'anyPitch' } }] }],
        },
      },
    });
    expect(upgraded({ kind: 'partRemoved', index: 0, part: old.parts[0] })).toEqual([
      { kind: 'partRemoved', index: 0, part: now.parts[0] },
    ]);
    expect(upgraded({ kind: 'partRemoved', index: 0, part: { ...old.parts[0], id: 9 } })).toEqual([]);
    const title = { kind: 'arrangementFields', before: { title: 'a' }, after: { title: 'b' } };
    expect(upgraded(title)).toEqual([title]);
    expect(upgradeEntry({ kind: 'goTo', position: 3 }, now)).toEqual({ kind: 'goTo', position: 3 });
  });
});
