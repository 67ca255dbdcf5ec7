import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { changeField, type NoteField, placeTyped, readFieldEntry } from '../edits/noteFields.js';
import type { Arrangement, PartEvent } from '../model/arrangement.js';
import { applyEdit, type Edit, invertEdit } from '../model/edit.js';
import { selectionOf } from '../model/selection.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith } from '../testing/kit.js';
import { createMeterMap, placeInNumbers } from '../time/meterMap.js';
import { ticks } from '../time/units.js';
import { ADDED_KINDS, addRow, deleteRows, doubleRows, editCells, notesOfRows, type TableColumn } from './rowEdits.js';
import { rowInWords, rowSearch, rowValue, rowWhat, tableRows } from './rows.js';

const event = (id: number, tick: number, more: object): PartEvent =>
  ({ id, tick: ticks(tick), channel: 0, ...more }) as PartEvent;
const events = [
  event(1, 0, { kind: 'program', program: 73 }),
  event(2, 480, { kind: 'controller', controller: 11, value: 40 }),
  event(3, 700, { kind: 'pitchBend', value: 12_288 }),
  event(4, 960, { kind: 'text', metaType: 1, text: 'solo' }),
];
const notes = [note(74, 520, 360), note(62, 1920, 480)];
const base: Arrangement = arrangementWith([partWith(notes, { events })], {
  nextEventId: 10,
  tempos: [
    { tick: ticks(0), microsecondsPerQuarter: 500_000 },
    { tick: ticks(1920), microsecondsPerQuarter: 600_000 },
  ],
  markers: [{ tick: ticks(1920), text: 'B' }],
});
const rows = tableRows(base);
const row = (key: string) => {
  const found = rows.find((own) => own.key === key);
  if (!found) throw new Error(`no row ${key}`);
  return found;
};
const done = (edit: Edit | null): Arrangement => {
  if (!edit) throw new Error('nothing to do');
  const after = applyEdit(base, edit);
  const { nextEventId: _, nextNoteId: __, ...back } = applyEdit(after, invertEdit(edit));
  expect({ ...base, ...back }).toEqual(base);
  return after;
};
const edited = (keys: readonly string[], column: TableColumn, typed: string): Arrangement => {
  const made = editCells(base, keys.map(row), column, typed);
  if (!made.ok) throw new Error(made.problem.message);
  return done(made.value);
};
const refused = (keys: readonly string[], column: TableColumn, typed: string): string => {
  const made = editCells(base, keys.map(row), column, typed);
  return made.ok ? '' : made.problem.message;
};
const [n1, n2] = notes.map(({ id }) => `n${id}`) as [string, string];

describe('rows', () => {
  it('are all that there is, in order of place', () => {
    expect(rows.map(({ kind, tick }) => `${tick} ${kind}`)).toEqual([
      '0 tempo',
      '0 meter',
      '0 program',
      '480 controller',
      '520 note',
      '700 pitchBend',
      '960 text',
      '1920 tempo',
      '1920 marker',
      '1920 note',
    ]);
    expect(new Set(rows.map(({ key }) => key)).size).toBe(rows.length);
  });

  it('are narrowed to parts, kinds, controllers, bars, what is selected', () => {
    const kinds = (filter: Parameters<typeof tableRows>[1]) => tableRows(base, filter).map(({ kind }) => kind);
    expect(kinds({ kinds: new Set(['note', 'marker']) })).toEqual(['note', 'marker', 'note']);
    expect(kinds({ controllers: new Set([7]), kinds: new Set(['controller']) })).toEqual([]);
    expect(kinds({ from: 500, to: 1000 })).toEqual(['note', 'pitchBend', 'text']);
    expect(kinds({ parts: new Set([9]) })).toEqual([]);
    expect(kinds({ selection: selectionOf(1, [notes[1]?.id ?? 0]) })).toEqual(['note']);
  });

  it('are said as a musician would', () => {
    const map = createMeterMap(base.meters, base.ppq);
    const words = (key: string) => rowInWords(row(key), map, base.ppq);
    expect(words(n1)).toBe('Flute, D5, bar 1 beat 2 and 40 ticks, dotted eighth, velocity 80');
    expect(words('e2')).toBe('Flute, controller 11 expression 40, bar 1 beat 2');
    expect(words('e3')).toMatch(/^Flute, pitch bend \+1\.00 semitones, bar 1 beat 2/);
    expect(words('t1')).toBe('Tempo 100, bar 2 beat 1');
    expect(placeInNumbers(map, 480, 520)).toBe('1.2.40');
    expect([rowWhat(row('e2')), rowValue(row('e4'))]).toEqual(['11 expression', 'solo']);
    expect(rowSearch(row('r1920'))).toContain('b');
  });
});

describe('cells', () => {
  it('of notes are edited as by the note panel, whatever is typed', () => {
    const fields: { readonly [column in TableColumn]: NoteField } = {
      place: 'start',
      what: 'pitch',
      value: 'velocity',
      length: 'length',
      channel: 'channel',
    };
    const typed = fc.oneof(
      fc.constantFrom('C4', 'F#3', '2.3.10', '3', '+10', '-40', '*0.5', '/2', '+20 ms', '1/8.', '250 ms', 'x', '', '0'),
      fc.integer({ min: -20, max: 200 }).map(String),
    );
    const columns = fc.constantFrom<TableColumn[]>('place', 'what', 'value', 'length', 'channel');
    fc.assert(
      fc.property(columns, typed, fc.subarray([n1, n2], { minLength: 1 }), (column, text, keys) => {
        const chosen = keys.map(row);
        const made = editCells(base, chosen, column, text);
        const entry = readFieldEntry(fields[column], text);
        const byPanel = entry.ok ? changeField(base, notesOfRows(chosen), fields[column], entry.value) : entry;
        const edit = byPanel.ok ? byPanel.value.edit : null;
        expect(made.ok).toBe(edit !== null);
        if (made.ok && edit) expect(applyEdit(base, made.value)).toEqual(applyEdit(base, edit));
      }),
      cases(300),
    );
  });

  it('of messages take values, sums and places, within what can be', () => {
    const values = ({ parts }: Arrangement) => parts[0]?.events.map((own) => ('value' in own ? own.value : null));
    expect(values(edited(['e2', 'e3'], 'value', '+100'))).toEqual([null, 127, 12_388, null]);
    expect(edited(['e2'], 'place', '2.1').parts[0]?.events.map(({ id }) => id)).toEqual([1, 3, 4, 2]);
    expect(edited(['e4'], 'value', 'tutti').parts[0]?.events[3]).toMatchObject({ text: 'tutti' });
    expect(edited(['e1'], 'value', '40').parts[0]?.events[0]).toMatchObject({ program: 39 });
    expect(edited(['e1'], 'value', '+1').parts[0]?.events[0]).toMatchObject({ program: 74 });
    expect(edited(['e1'], 'value', '0').parts[0]?.events[0]).toMatchObject({ program: 0 });
    expect(edited(['e2'], 'channel', '3').parts[0]?.events[1]).toMatchObject({ channel: 2 });
    expect(refused(['e2'], 'value', 'loud')).toMatch(/^A value is a number/);
    expect(refused(['e2'], 'what', '7')).toMatch(/cannot be changed/);
  });

  it('of the piece’s own maps too', () => {
    expect(edited(['t1'], 'value', '120').tempos[1]?.microsecondsPerQuarter).toBe(500_000);
    expect(edited(['t1'], 'place', '1.3').tempos[1]?.tick).toBe(960);
    expect(edited(['r1920'], 'value', 'Coda').markers[0]?.text).toBe('Coda');
    expect(edited([row('m0').key], 'value', '3/4').meters[0]?.numerator).toBe(3);
    expect(refused(['r1920'], 'place', 'soon')).toMatch(/^A place is/);
  });

  it('places are counted in the beats of the meter, as they are shown: in 6/8 by dotted quarters', () => {
    const lilting = { ...base, meters: [{ tick: ticks(0), numerator: 6, denominator: 8 }] };
    const map = createMeterMap(lilting.meters, 480);
    const marker = tableRows(lilting).find(({ kind }) => kind === 'marker');
    const made = editCells(lilting, marker ? [marker] : [], 'place', '1.2.30');
    const [moved] = made.ok ? applyEdit(lilting, made.value).markers : [];
    expect(moved?.tick).toBe(750);
    expect(placeInNumbers(map, 480, 750)).toBe('1.2.30');
    expect(placeTyped(map, 480, '1.3')).toMatchObject({ ok: false });
    expect(placeTyped(map, 480, '2')).toEqual({ ok: true, value: 1440 });
    expect(placeTyped(map, 480, '+30')).toMatchObject({ ok: false });
  });

  it('of rows of several kinds change together, in one Edit', () => {
    const after = edited([n2, 'e2', 't1'], 'value', '90');
    expect(after.parts[0]?.notes[1]?.velocity).toBe(90);
    expect(after.parts[0]?.events[1]).toMatchObject({ value: 90 });
    expect(after.tempos[1]?.microsecondsPerQuarter).toBe(666_667);
  });
});

describe('whole rows', () => {
  it('are deleted, but the first tempo and the first meter', () => {
    const after = done(deleteRows(base, rows));
    expect([after.parts[0]?.notes, after.parts[0]?.events, after.markers]).toEqual([[], [], []]);
    expect([after.tempos.length, after.meters.length]).toEqual([1, 1]);
    expect(deleteRows(base, [])).toBeNull();
  });

  it('are doubled with ids of their own', () => {
    const after = done(doubleRows(base, [row(n1), row('e2')]));
    expect(after.parts[0]?.notes.map(({ onset }) => onset)).toEqual([520, 520, 1920]);
    const ids = after.parts[0]?.events.map(({ id }) => id) ?? [];
    expect(new Set(ids).size).toBe(5);
    expect(doubleRows(base, [row('t0')])).toBeNull();
  });
  it.each(ADDED_KINDS)('a %s can be added, once at one place where the piece has one of them', (kind) => {
    const part = base.parts[0];
    const first = addRow(base, kind, 4000, part);
    if (!first.ok) throw new Error(first.problem.message);
    const after = done(first.value);
    const ofKind = (arrangement: Arrangement) => tableRows(arrangement, { kinds: new Set([kind]) });
    expect(ofKind(after).length).toBe(ofKind(base).length + 1);
    // Meter and key stand where their bar begins.
    const at = kind === 'meter' || kind === 'key' ? createMeterMap(base.meters, base.ppq).barAt(4000).start : 4000;
    expect(ofKind(after).some(({ tick }) => tick === at)).toBe(true);
    const again = addRow(after, kind, 4000, after.parts[0]);
    expect(again.ok).toBe(!['tempo', 'meter', 'key', 'marker'].includes(kind));
    expect(addRow({ ...base, parts: [] }, kind, 4000, undefined).ok).toBe(
      ['tempo', 'meter', 'key', 'marker'].includes(kind),
    );
  });
});

it('the demo has a row for each of its notes', () => {
  const demo = demoArrangement();
  const count = demo.parts.reduce((sum, part) => sum + part.notes.length, 0);
  expect(tableRows(demo, { kinds: new Set(['note']) })).toHaveLength(count);
});
