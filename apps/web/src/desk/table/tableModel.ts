/** The table without a browser: its columns, which rows it has and in which order, what stands in a cell, where keys and clicks lead. */
import {
  type Arrangement,
  createMeterMap,
  type Finding,
  intersectionOf,
  lengthInWords,
  type MeterMap,
  type NoteId,
  type Part,
  type PartId,
  placeInNumbers,
  ROW_KIND_NAMES,
  type RowKind,
  rowNumber,
  rowSearch,
  rowValue,
  rowWhat,
  type Selection,
  type TableFilter,
  type TableRow,
  type TempoMap,
  tableRows,
} from '@crispfold/core';
import { notDismissed } from '../state/findings.js';

/** Columns, in order. */
export const COLUMNS = ['place', 'time', 'part', 'kind', 'what', 'value', 'length', 'channel'] as const;
/** One of them. */
export type ColumnId = (typeof COLUMNS)[number];

export const HEADINGS: { readonly [id in ColumnId]: string } = {
  place: 'Place',
  time: 'Time',
  part: 'Part',
  kind: 'Kind',
  what: 'What',
  value: 'Value',
  length: 'Length',
  channel: 'Channel',
};

/** Columns whose cells can be edited, as the computation calls them. */
export const EDITABLE = ['place', 'what', 'value', 'length', 'channel'] as const;

/** The column as one that can be edited; undefined for the others. */
export const editable = (column: ColumnId): (typeof EDITABLE)[number] | undefined =>
  EDITABLE.find((own) => own === column);

/** A row that says which it is sorted by, and which way. */
export interface SortedBy {
  readonly id: ColumnId;
  readonly desc: boolean;
}

const lengthOf = (row: TableRow): number => (row.kind === 'note' ? row.note.duration : -1);
const channelOf = (row: TableRow): number =>
  row.kind === 'note' ? row.note.channel : 'event' in row && 'channel' in row.event ? row.event.channel : -1;

const SORTS: { readonly [id in ColumnId]: (row: TableRow) => number | string } = {
  place: (row) => row.tick,
  time: (row) => row.tick,
  part: (row) => ('part' in row ? row.part.name : ''),
  kind: (row) => ROW_KIND_NAMES[row.kind],
  what: (row) => (row.kind === 'note' ? String(row.note.pitch).padStart(3, '0') : rowWhat(row)),
  value: rowNumber,
  length: lengthOf,
  channel: channelOf,
};

/** Sorting after a click on a column's heading: rising, falling, then by place again. */
export const sortedNext = (now: SortedBy | null, id: ColumnId): SortedBy | null => {
  if (now?.id !== id) return { id, desc: false };
  return now.desc ? null : { id, desc: true };
};

/** Rows by a column; rows that are alike there stay in order of place. O(n log n). */
export const sortedRows = (rows: readonly TableRow[], by: SortedBy | null): readonly TableRow[] => {
  if (!by) return rows;
  const sortOf = SORTS[by.id];
  const way = by.desc ? -1 : 1;
  return rows
    .map((row) => ({ row, value: sortOf(row) }))
    .sort((one, other) => (one.value < other.value ? -way : one.value > other.value ? way : 0))
    .map(({ row }) => row);
};

/** What the rows are narrowed to, as a person chose it. */
export interface Narrowed {
  readonly kind: RowKind | '';
  readonly partId: PartId | null;
  readonly bars: string;
  readonly words: string;
  readonly selectedOnly: boolean;
  /** Only what a check noticed. */
  readonly foundOnly: boolean;
}

/** Narrowed to nothing. */
export const ALL: Narrowed = {
  kind: '',
  partId: null,
  bars: '',
  words: '',
  selectedOnly: false,
  foundOnly: false,
};

/** "3" or "3-8" as bars; null for anything else. */
export const barsTyped = (text: string): readonly [number, number] | null => {
  const match = /^\s*(\d+)\s*(?:[-–]\s*(\d+))?\s*$/.exec(text);
  if (!match) return null;
  const from = Number(match[1]);
  return [from, Math.max(from, Number(match[2] ?? from))];
};

/** What checks noticed of notes, by part and note, in words. */
export type Noticed = ReadonlyMap<PartId, ReadonlyMap<NoteId, string>>;

/** See {@link Noticed}; what was dismissed is left out. */
export const noticedOf = (findings: readonly Finding[], parts: readonly Part[]): Noticed => {
  const noticed = new Map<PartId, Map<NoteId, string>>();
  for (const finding of notDismissed(findings, parts)) {
    const own = noticed.get(finding.partId) ?? new Map<NoteId, string>();
    noticed.set(finding.partId, own);
    for (const id of finding.noteIds) {
      const before = own.get(id);
      own.set(id, before ? `${before}; ${finding.reason}` : finding.reason);
    }
  }
  return noticed;
};

/** The notes that alone are listed; null is all. */
const onlyOf = (
  { selectedOnly, foundOnly }: Pick<Narrowed, 'selectedOnly' | 'foundOnly'>,
  selection: Selection,
  noticed: Noticed,
): Selection | null => {
  if (!foundOnly) return selectedOnly ? selection : null;
  const found = new Map([...noticed].map(([partId, own]) => [partId, new Set(own.keys())]));
  return selectedOnly ? intersectionOf(found, selection) : found;
};

/** The rows of an arrangement as they are narrowed, in order of place. */
export const rowsOf = (
  arrangement: Arrangement,
  narrowed: Narrowed,
  selection: Selection,
  noticed: Noticed,
): readonly TableRow[] => {
  const { kind, partId, bars, words } = narrowed;
  const meterMap = createMeterMap(arrangement.meters, arrangement.ppq);
  const range = barsTyped(bars);
  const only = onlyOf(narrowed, selection, noticed);
  const filter: TableFilter = {
    ...(kind === '' ? {} : { kinds: new Set([kind]) }),
    ...(partId === null ? {} : { parts: new Set([partId]) }),
    ...(range ? { from: meterMap.barNumbered(range[0]).start, to: meterMap.barNumbered(range[1]).end } : {}),
    ...(only ? { selection: only } : {}),
  };
  const rows = tableRows(arrangement, filter);
  const wanted = words.trim().toLowerCase();
  return wanted === '' ? rows : rows.filter((row) => rowSearch(row).includes(wanted));
};

/** What cells are told by. */
export interface Maps {
  readonly ppq: number;
  readonly meterMap: MeterMap;
  readonly tempoMap: TempoMap;
}

/** In ticks, and the value where it is one. */
const lengthText = (ticks: number, ppq: number): string => {
  const words = lengthInWords(ticks, ppq);
  return words.startsWith('about') ? String(ticks) : `${ticks} · ${words}`;
};

/** The text of a cell. */
export const cellText = (row: TableRow, column: ColumnId, { ppq, meterMap, tempoMap }: Maps): string => {
  switch (column) {
    case 'place':
      return placeInNumbers(meterMap, ppq, row.tick);
    case 'time':
      return `${tempoMap.secondsAt(row.tick).toFixed(3)} s`;
    case 'part':
      return 'part' in row ? row.part.name : 'all';
    case 'kind':
      return ROW_KIND_NAMES[row.kind] + (row.kind === 'note' && row.note.muted ? ', muted' : '');
    case 'what':
      return rowWhat(row);
    case 'value':
      return rowValue(row);
    case 'length':
      return row.kind === 'note' ? lengthText(row.note.duration, ppq) : '';
    case 'channel': {
      const channel = channelOf(row);
      return channel < 0 ? '' : String(channel + 1);
    }
    default:
      return column satisfies never;
  }
};

/** What is typed into while a cell is edited. */
export const startText = (row: TableRow, column: ColumnId, maps: Maps): string =>
  column === 'length' && row.kind === 'note' ? String(row.note.duration) : cellText(row, column, maps);

/** A cell, by its row and column from 0. */
export interface CellAt {
  readonly row: number;
  readonly column: number;
}

/** The nearest cell that there is. */
export const within = ({ row, column }: CellAt, rows: number): CellAt => ({
  row: Math.max(0, Math.min(rows - 1, row)),
  column: Math.max(0, Math.min(COLUMNS.length - 1, column)),
});

/** Where a key leads from a cell, `page` rows being seen at once; null where it leads nowhere. */
export const cellByKey = (key: string, { row, column }: CellAt, rows: number, page: number): CellAt | null => {
  const to: { readonly [key: string]: CellAt } = {
    ArrowDown: { row: row + 1, column },
    ArrowUp: { row: row - 1, column },
    ArrowLeft: { row, column: column - 1 },
    ArrowRight: { row, column: column + 1 },
    PageDown: { row: row + page, column },
    PageUp: { row: row - page, column },
    Home: { row: 0, column },
    End: { row: rows - 1, column },
  };
  return to[key] ? within(to[key], rows) : null;
};

/** With Shift all rows from the cell to the one clicked are chosen, with Ctrl one more or one less, else that one alone. */
export const chosenByClick = (
  rows: readonly TableRow[],
  from: number,
  clicked: number,
  chosen: readonly TableRow[],
  { shift, control }: { readonly shift: boolean; readonly control: boolean },
): readonly TableRow[] => {
  const row = rows[clicked];
  if (!row) return chosen;
  if (shift) return rows.slice(Math.min(from, clicked), Math.max(from, clicked) + 1);
  return control ? chosenTurned(chosen, row) : [row];
};

/** The chosen rows with one more, or without one that was among them. */
export const chosenTurned = (chosen: readonly TableRow[], row: TableRow): readonly TableRow[] =>
  chosen.includes(row) ? chosen.filter((own) => own !== row) : [...chosen, row];
