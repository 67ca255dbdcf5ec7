/** The table's rows, cells, keys and clicks, without a browser. */
import {
  createMeterMap,
  createTempoMap,
  demoArrangement,
  type Finding,
  type Note,
  type Part,
  selectionOf,
  type TableRow,
} from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import {
  ALL,
  barsTyped,
  COLUMNS,
  cellByKey,
  cellText,
  chosenByClick,
  chosenTurned,
  editable,
  noticedOf,
  rowsOf,
  sortedNext,
  sortedRows,
  startText,
  within,
} from './tableModel.js';

const demo = demoArrangement();
const [flute, clarinet] = demo.parts as unknown as [Part, Part];
const maps = {
  ppq: demo.ppq,
  meterMap: createMeterMap(demo.meters, demo.ppq),
  tempoMap: createTempoMap(demo.tempos, demo.ppq),
};
const none = new Map();
const notes = rowsOf(demo, { ...ALL, kind: 'note' }, none, none);
const noteOf = (row: TableRow | undefined): Note => {
  if (row?.kind !== 'note') throw new Error('a note was expected');
  return row.note;
};

describe('the rows', () => {
  it('are all that there is, in order of place', () => {
    const all = rowsOf(demo, ALL, none, none);
    expect(notes).toHaveLength(demo.parts.reduce((sum, part) => sum + part.notes.length, 0));
    expect(all.length).toBeGreaterThan(notes.length);
    expect(all.map(({ tick }) => tick)).toEqual(all.map(({ tick }) => tick).sort((a, b) => a - b));
  });

  it('are those of a part, of some bars, with some words, selected', () => {
    const ofFlute = rowsOf(demo, { ...ALL, kind: 'note', partId: flute.id }, none, none);
    expect(ofFlute).toHaveLength(flute.notes.length);
    const bars = rowsOf(demo, { ...ALL, kind: 'note', bars: '2-3' }, none, none);
    const [from, to] = [maps.meterMap.barNumbered(2).start, maps.meterMap.barNumbered(3).end];
    expect(bars.length).toBeGreaterThan(0);
    expect(bars.every(({ tick }) => tick >= from && tick < to)).toBe(true);
    const words = rowsOf(demo, { ...ALL, words: ' TEMPO ' }, none, none);
    expect(words.map(({ kind }) => kind)).toContain('tempo');
    const ids = flute.notes.slice(0, 2).map(({ id }) => id);
    const selected = rowsOf(demo, { ...ALL, selectedOnly: true }, selectionOf(flute.id, ids), none);
    expect(selected.map(noteOf).map(({ id }) => id)).toEqual(ids);
  });

  it('are those that a check noticed, but for what was dismissed; both where both are asked for', () => {
    const [first, second] = flute.notes.map(({ id }) => id) as [number, number];
    const finding = (key: string, noteIds: number[], reason: string) =>
      ({ key, partId: flute.id, noteIds, reason }) as unknown as Finding;
    const found = [finding('a', [first, second], 'Early'), finding('b', [first], 'Doubled'), finding('c', [9], 'Gone')];
    const noticed = noticedOf(found, [{ ...flute, dismissed: ['c'] }]);
    expect(noticed.get(flute.id)).toEqual(
      new Map([
        [first, 'Early; Doubled'],
        [second, 'Early'],
      ]),
    );
    const foundOnly = rowsOf(demo, { ...ALL, foundOnly: true }, none, noticed);
    expect(foundOnly.map(noteOf).map(({ id }) => id)).toEqual([first, second]);
    const selection = selectionOf(flute.id, [second]);
    const both = rowsOf(demo, { ...ALL, foundOnly: true, selectedOnly: true }, selection, noticed);
    expect(both.map(noteOf).map(({ id }) => id)).toEqual([second]);
  });

  it('are sorted by a column, rising and falling, alike ones in order of place', () => {
    const rising = sortedRows(notes, { id: 'what', desc: false }).map(noteOf);
    expect(rising.map(({ pitch }) => pitch)).toEqual(rising.map(({ pitch }) => pitch).sort((a, b) => a - b));
    const falling = sortedRows(notes, { id: 'length', desc: true }).map(noteOf);
    expect(falling[0]?.duration).toBe(Math.max(...notes.map((row) => noteOf(row).duration)));
    const byPart = sortedRows(notes, { id: 'part', desc: false });
    const own = byPart.filter((row) => 'part' in row && row.part.id === clarinet.id).map(({ tick }) => tick);
    expect(own).toEqual([...own].sort((a, b) => a - b));
    expect(sortedRows(notes, null)).toBe(notes);
  });

  it('are sorted by a heading that is clicked: rising, falling, then by place again', () => {
    const once = sortedNext(null, 'value');
    const twice = sortedNext(once, 'value');
    expect([once, twice, sortedNext(twice, 'value')]).toEqual([
      { id: 'value', desc: false },
      { id: 'value', desc: true },
      null,
    ]);
    expect(sortedNext(twice, 'time')).toEqual({ id: 'time', desc: false });
  });
});

describe('bars as they are typed', () => {
  it('are one or several, and nothing else', () => {
    expect(['3', ' 3 - 8 ', '3–8', '8-3'].map(barsTyped)).toEqual([
      [3, 3],
      [3, 8],
      [3, 8],
      [8, 8],
    ]);
    expect(['', 'a', '3-', '-3', '3.5'].map(barsTyped)).toEqual([null, null, null, null, null]);
  });
});

describe('a cell', () => {
  it('says what there is of a note', () => {
    const [row] = notes as [TableRow];
    const own = noteOf(row);
    const texts = COLUMNS.map((column) => cellText(row, column, maps));
    expect(texts[1]).toBe(`${maps.tempoMap.secondsAt(row.tick).toFixed(3)} s`);
    expect(texts[2]).toBe('part' in row ? row.part.name : '');
    expect(texts[7]).toBe(String(own.channel + 1));
    const muted = { ...row, note: { ...own, muted: true } } as TableRow;
    expect(cellText(muted, 'kind', maps)).toBe(`${cellText(row, 'kind', maps)}, muted`);
    const quarter = { ...row, note: { ...own, duration: maps.ppq } } as TableRow;
    expect(cellText(quarter, 'length', maps)).toBe(`${maps.ppq} · quarter`);
    // What is typed into is the number alone.
    expect(startText(quarter, 'length', maps)).toBe(String(maps.ppq));
    expect(startText(quarter, 'value', maps)).toBe(cellText(quarter, 'value', maps));
  });

  it('is empty where a row has no such thing', () => {
    const tempo = rowsOf(demo, { ...ALL, kind: 'tempo' }, none, none)[0] as TableRow;
    expect([cellText(tempo, 'part', maps), cellText(tempo, 'length', maps), cellText(tempo, 'channel', maps)]).toEqual([
      'all',
      '',
      '',
    ]);
  });

  it('can be edited in some columns', () => {
    expect(COLUMNS.filter((column) => editable(column))).toEqual(['place', 'what', 'value', 'length', 'channel']);
  });

  it('is gone to by keys, within the table', () => {
    const from = { row: 10, column: 3 };
    const to = (key: string) => cellByKey(key, from, 40, 20);
    expect(to('ArrowDown')).toEqual({ row: 11, column: 3 });
    expect(to('ArrowLeft')).toEqual({ row: 10, column: 2 });
    expect(to('PageUp')).toEqual({ row: 0, column: 3 });
    expect(to('PageDown')).toEqual({ row: 30, column: 3 });
    expect([to('Home'), to('End')]).toEqual([
      { row: 0, column: 3 },
      { row: 39, column: 3 },
    ]);
    expect(cellByKey('ArrowRight', { row: 0, column: 7 }, 40, 20)).toEqual({ row: 0, column: 7 });
    expect(to('x')).toBeNull();
    expect(within({ row: 9, column: 9 }, 4)).toEqual({ row: 3, column: 7 });
    expect(within({ row: -1, column: -1 }, 4)).toEqual({ row: 0, column: 0 });
  });
});

describe('rows are chosen', () => {
  const [a, b, c, d] = notes as unknown as [TableRow, TableRow, TableRow, TableRow];
  const rows = [a, b, c, d];
  const by = (shift: boolean, control: boolean) => ({ shift, control });

  it('by a click alone, a stretch with Shift, one more or less with Ctrl', () => {
    expect(chosenByClick(rows, 0, 2, [a, b], by(false, false))).toEqual([c]);
    expect(chosenByClick(rows, 3, 1, [a], by(true, false))).toEqual([b, c, d]);
    expect(chosenByClick(rows, 0, 2, [a], by(false, true))).toEqual([a, c]);
    expect(chosenByClick(rows, 0, 2, [a, c], by(false, true))).toEqual([a]);
    expect(chosenByClick(rows, 0, 9, [a], by(false, false))).toEqual([a]);
  });

  it('by Space: one more, or without it', () => {
    expect(chosenTurned([a], b)).toEqual([a, b]);
    expect(chosenTurned([a, b], a)).toEqual([b]);
  });
});
