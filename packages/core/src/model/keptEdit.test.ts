import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import type { Note, PartEvent } from './arrangement.js';
import { applyEdit, type Edit, editBetween, eventsChange, invertEdit, notesChange, slimEdit } from './edit.js';
import {
  applyJournalEntry,
  type History,
  historyEntry,
  missingBetween,
  withEdits,
  withoutFarEdits,
} from './history.js';

const anyNote = fc.record({
  id: fc.integer({ min: 1, max: 30 }),
  pitch: fc.integer({ min: 0, max: 127 }),
  onset: fc.nat(2000).map(ticks),
  duration: fc.integer({ min: 1, max: 900 }).map(ticks),
  velocity: fc.integer({ min: 1, max: 127 }),
  channel: fc.integer({ min: 0, max: 15 }),
});
const anyNotes: fc.Arbitrary<Note[]> = fc
  .uniqueArray(
    fc.tuple(
      anyNote,
      fc.option(fc.integer({ min: 0, max: 127 }), { nil: undefined }),
      fc.option(fc.constant(true), { nil: undefined }),
    ),
    { selector: ([one]) => one.id, maxLength: 20 },
  )
  .map((list) =>
    list
      .map(([one, releaseVelocity, muted]) => ({
        ...one,
        ...(releaseVelocity === undefined ? {} : { releaseVelocity }),
        ...(muted ? { muted } : {}),
      }))
      .sort((a, b) => a.onset - b.onset || a.pitch - b.pitch || a.id - b.id),
  );

describe('an Edit with only what differs', () => {
  it('does and takes back the very same, also through JSON', () => {
    fc.assert(
      fc.property(anyNotes, anyNotes, (before, after) => {
        const from = arrangementWith([partWith(before)], { nextNoteId: 100 });
        const change = notesChange(1, before, after);
        fc.pre(change !== undefined);
        const edit: Edit = { label: 'Some change', changes: change ? [change] : [] };
        const slim = JSON.parse(JSON.stringify(slimEdit(edit)));
        const to = applyEdit(from, edit);
        expect(applyEdit(from, slim)).toEqual(to);
        expect(applyEdit(to, invertEdit(slim))).toEqual(from);
      }),
    );
  });

  it('says of a transposition the pitches alone', () => {
    const notes = [note(60, 0, 10), note(62, 10, 10)];
    const change = notesChange(
      1,
      notes,
      notes.map((one) => ({ ...one, pitch: one.pitch + 2 })),
    );
    const slim = slimEdit({ label: 'Up', changes: change ? [change] : [] });
    expect(slim.changes[0]).toMatchObject({
      changed: notes.map(({ id, pitch }) => ({ before: { id, pitch }, after: { id, pitch: pitch + 2 } })),
    });
    expect(JSON.stringify(slim)).not.toContain('velocity');
  });

  it('does the same for messages, whose bytes are compared one by one', () => {
    const message = (data: number[], tick = 0): PartEvent => ({
      id: 7,
      kind: 'sysex',
      tick: ticks(tick),
      escape: false,
      data,
    });
    const before = [message([1, 2])];
    const moved = eventsChange(1, before, [message([1, 2], 40)]);
    const slim = slimEdit({ label: 'Move', changes: moved ? [moved] : [] });
    expect(slim.changes[0]).toMatchObject({ changed: [{ before: { id: 7, tick: 0 }, after: { id: 7, tick: 40 } }] });
    const from = arrangementWith([partWith([], { events: before })]);
    expect(applyEdit(from, slim).parts[0]?.events).toEqual([message([1, 2], 40)]);
  });

  it('leads from one arrangement to another and back', () => {
    const from = arrangementWith([partWith([note(60, 0, 10)]), partWith([note(62, 0, 10)], { id: 2 })]);
    const to = { ...arrangementWith([partWith([note(70, 0, 10)], { id: 2, name: 'Oboe' })]), title: 'Then' };
    const edit = editBetween('Back', from, to);
    const there = applyEdit(from, edit);
    expect([there.title, there.parts]).toEqual([to.title, to.parts]);
    expect(applyEdit(there, invertEdit(edit)).parts).toEqual(from.parts);
  });
});

describe('a history by name', () => {
  const base = arrangementWith([partWith([{ ...note(60, 0, 10), id: 1 }])]);
  const up = (from: number): Edit =>
    ({
      label: `to ${from + 1}`,
      changes: [
        {
          kind: 'notes',
          partId: 1,
          added: [],
          removed: [],
          changed: [{ before: { id: 1, pitch: from }, after: { id: 1, pitch: from + 1 } }],
        },
      ],
    }) as unknown as Edit;
  const edits = [up(60), up(61), up(62)];
  const arrangement = edits.reduce(applyEdit, base);
  const whole: History = { entries: edits.map(historyEntry), position: 3, skipped: 0 };
  const byName: History = { ...whole, entries: whole.entries.map((entry) => ({ ...entry, edit: null })) };

  it('goes no further than there are Edits at hand, and all the way once they have come', () => {
    expect(missingBetween(byName, 1)).toEqual({ from: 1, to: 3 });
    expect(missingBetween(whole, 0)).toBeNull();
    const stuck = applyJournalEntry({ arrangement, history: byName }, { kind: 'goTo', position: 0 });
    expect(stuck.history.position).toBe(3);
    expect(stuck.arrangement).toBe(arrangement);
    const some = withEdits(byName, 1, edits.slice(1));
    expect(missingBetween(some, 0)).toEqual({ from: 0, to: 1 });
    const there = applyJournalEntry({ arrangement, history: some }, { kind: 'goTo', position: 1 });
    expect(there.arrangement.parts[0]?.notes[0]?.pitch).toBe(61);
  });

  it('keeps the Edit of an entry that took the place of one that was fetched', () => {
    const redone = { ...byName, entries: [...byName.entries.slice(0, 2), historyEntry(up(70))] };
    expect(withEdits(redone, 1, edits.slice(1)).entries.map(({ edit }) => edit?.label)).toEqual([
      undefined,
      'to 62',
      'to 71',
    ]);
  });

  it('goes as far as Edits are at hand, forward and back', () => {
    const [first, second] = [up(60), up(61)];
    const start = arrangementWith([partWith([note(60, 0, 10, { id: 1 })])]);
    const gap: History = {
      entries: [historyEntry(first), { ...historyEntry(second), edit: null }, historyEntry(up(62))],
      position: 0,
      skipped: 0,
    };
    const gone = applyJournalEntry({ arrangement: start, history: gap }, { kind: 'goTo', position: 3 });
    expect(gone.history.position).toBe(1);
    expect(gone.arrangement).toEqual(applyEdit(start, first));
    const back = applyJournalEntry(
      { arrangement: start, history: { ...gap, position: 2 } },
      { kind: 'goTo', position: 0 },
    );
    expect(back.history.position).toBe(2);
    expect(back.arrangement).toBe(start);
  });

  it('lets go of large Edits far from the pointer, and keeps their names', () => {
    const long: History = {
      entries: Array.from({ length: 30 }, (_, at) => ({ label: `${at}`, touched: 100, edit: edits[0] as Edit })),
      position: 30,
      skipped: 0,
    };
    const light = withoutFarEdits(long, 2000);
    const held = light.entries.flatMap(({ edit }, at) => (edit ? [at] : []));
    expect(held).toEqual(Array.from({ length: held.length }, (_, at) => 30 - held.length + at));
    expect(held.length).toBeGreaterThan(5);
    expect(held.length).toBeLessThan(15);
    expect(light.entries.map(({ label }) => label)).toEqual(long.entries.map(({ label }) => label));
    expect(withoutFarEdits(long, 4000)).toBe(long);
    // Each weighs its notes and itself.
    expect(withoutFarEdits(long, 30 * 101)).toBe(long);
    expect(withoutFarEdits(long, 30 * 101 - 1)).not.toBe(long);
    // However large, the nearest stay: the next undo is at once.
    const few = withoutFarEdits(long, 10).entries.flatMap(({ edit }, at) => (edit ? [at] : []));
    expect(few).toEqual([26, 27, 28, 29]);
  });
});
