/** Everything as rows: narrowed, sorted, edited in place, by keyboard alone too. The selection is the roll's. */

import {
  ADDED_KINDS,
  type AddedKind,
  addRow,
  createMeterMap,
  deleteRows,
  doubleRows,
  type Edit,
  editCells,
  intersectionOf,
  lengthInWords,
  type NoteId,
  notesOfRows,
  type PartId,
  placeInNumbers,
  type Result,
  ROW_KIND_NAMES,
  ROW_KINDS,
  type RowKind,
  rowInWords,
  rowNumber,
  rowSearch,
  rowValue,
  rowWhat,
  type TableColumn,
  type TableFilter,
  type TableRow,
  tableRows,
} from '@crispfold/core';
import { createColumnHelper, getCoreRowModel, type SortingState, useReactTable } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowLeft } from 'lucide-react';
import { type KeyboardEvent, type MouseEvent, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/Button.js';
import { counted } from '../../ui/words.js';
import { commitLane } from '../actions/commitLane.js';
import { KeepTimes } from '../controls/KeepTimes.js';
import { useAppDispatch } from '../session/desk.js';
import { notDismissed, selectFindings } from '../state/findings.js';
import { selectMeterMap, selectTempoMap } from '../state/maps.js';
import { useAppSelector } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';
import { selectArrangement, selectFrontPart } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';

const ROW_HEIGHT = 28;

/** Columns, in order: what each shows, and whether its cells can be edited. */
const COLUMNS = ['place', 'time', 'part', 'kind', 'what', 'value', 'length', 'channel'] as const;
type ColumnId = (typeof COLUMNS)[number];
const HEADINGS: { readonly [id in ColumnId]: string } = {
  place: 'Place',
  time: 'Time',
  part: 'Part',
  kind: 'Kind',
  what: 'What',
  value: 'Value',
  length: 'Length',
  channel: 'Channel',
};
const EDITABLE: ReadonlySet<ColumnId> = new Set(['place', 'what', 'value', 'length', 'channel']);
const WIDTHS =
  'grid grid-cols-[6rem_5rem_minmax(6rem,1fr)_6.5rem_minmax(6rem,0.9fr)_minmax(5rem,0.8fr)_minmax(9rem,1.4fr)_4.5rem]';

const helper = createColumnHelper<TableRow>();
const lengthOf = (row: TableRow): number => (row.kind === 'note' ? row.note.duration : -1);
const channelOf = (row: TableRow): number =>
  row.kind === 'note' ? row.note.channel : 'event' in row && 'channel' in row.event ? row.event.channel : -1;
/** What each column is sorted by. */
const SORTED_BY: { readonly [id in ColumnId]: (row: TableRow) => number | string } = {
  place: (row) => row.tick,
  time: (row) => row.tick,
  part: (row) => ('part' in row ? row.part.name : ''),
  kind: (row) => ROW_KIND_NAMES[row.kind],
  what: (row) => (row.kind === 'note' ? String(row.note.pitch).padStart(3, '0') : rowWhat(row)),
  value: rowNumber,
  length: lengthOf,
  channel: channelOf,
};
const columns = COLUMNS.map((id) => helper.accessor(SORTED_BY[id], { id }));
const NO_ROWS: TableRow[] = [];

/** Rows by the column that is sorted by; rows that are alike there stay in order of place. */
const useSorted = (rows: readonly TableRow[], sorting: SortingState): readonly TableRow[] =>
  useMemo(() => {
    const [by] = sorting;
    if (!by) return rows;
    const sortedBy = SORTED_BY[by.id as ColumnId];
    const way = by.desc ? -1 : 1;
    return rows
      .map((row) => ({ row, value: sortedBy(row) }))
      .sort((one, other) => (one.value < other.value ? -way : one.value > other.value ? way : 0))
      .map(({ row }) => row);
  }, [rows, sorting]);

/** What the rows are narrowed to, as a person chose it. */
interface Narrowed {
  readonly kind: RowKind | '';
  readonly partId: number | null;
  readonly bars: string;
  readonly words: string;
  readonly selectedOnly: boolean;
  /** Only what a check noticed. */
  readonly foundOnly: boolean;
}

const ALL: Narrowed = { kind: '', partId: null, bars: '', words: '', selectedOnly: false, foundOnly: false };

/** "3" or "3-8" as bars; null for anything else. */
const barsTyped = (text: string): readonly [number, number] | null => {
  const match = /^\s*(\d+)\s*(?:[-–]\s*(\d+))?\s*$/.exec(text);
  if (!match) return null;
  const from = Number(match[1]);
  return [from, Math.max(from, Number(match[2] ?? from))];
};

const useRows = (narrowed: Narrowed, noticed: ReturnType<typeof useNoticed>): readonly TableRow[] => {
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(({ selecting }) => selecting.selection);
  const { kind, partId, bars, words, selectedOnly, foundOnly } = narrowed;
  const only = useMemo(() => {
    if (!foundOnly) return selectedOnly ? selection : null;
    const found = new Map([...noticed].map(([partId, own]) => [partId, new Set(own.keys())]));
    return selectedOnly ? intersectionOf(found, selection) : found;
  }, [foundOnly, selectedOnly, noticed, selection]);
  return useMemo(() => {
    const meterMap = createMeterMap(arrangement.meters, arrangement.ppq);
    const range = barsTyped(bars);
    const filter: TableFilter = {
      ...(kind === '' ? {} : { kinds: new Set([kind]) }),
      ...(partId === null ? {} : { parts: new Set([partId]) }),
      ...(range ? { from: meterMap.barNumbered(range[0]).start, to: meterMap.barNumbered(range[1]).end } : {}),
      ...(only ? { selection: only } : {}),
    };
    const rows = tableRows(arrangement, filter);
    const wanted = words.trim().toLowerCase();
    return wanted === '' ? rows : rows.filter((row) => rowSearch(row).includes(wanted));
  }, [arrangement, kind, partId, bars, words, only]);
};

/** What checks noticed of notes, by part and note, in words: "Doubles", "Early starts". */
const useNoticed = (): ReadonlyMap<PartId, ReadonlyMap<NoteId, string>> => {
  const { parts } = useAppSelector(selectArrangement);
  const findings = useAppSelector(selectFindings);
  return useMemo(() => {
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
  }, [findings, parts]);
};

/** In ticks, and the value where it is one. */
const lengthText = (ticks: number, ppq: number): string => {
  const words = lengthInWords(ticks, ppq);
  return words.startsWith('about') ? String(ticks) : `${ticks} · ${words}`;
};

/** The text of a cell. */
const useCellText = () => {
  const { ppq } = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const tempoMap = useAppSelector(selectTempoMap);
  return (row: TableRow, column: ColumnId): string => {
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
};

/** What is typed into while a cell is edited. */
const startText = (row: TableRow, column: ColumnId, text: string): string =>
  column === 'length' && row.kind === 'note' ? String(row.note.duration) : text;

export const TableView = ({ onClose }: { onClose: () => void }) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const selection = useAppSelector(({ selecting }) => selecting.selection);
  const [narrowed, setNarrowed] = useState(ALL);
  const noticed = useNoticed();
  const rows = useRows(useDeferredValue(narrowed), noticed);
  const [sorting, setSorting] = useState<SortingState>([]);
  const shown = useSorted(rows, sorting);
  // The rows themselves are sorted here and drawn as they scroll by: a hundred thousand of them are too many to be wrapped.
  const table = useReactTable({
    data: NO_ROWS,
    columns,
    state: { sorting },
    manualSorting: true,
    onSortingChange: setSorting,
    getCoreRowModel: getCoreRowModel(),
  });
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  const cellText = useCellText();
  /** Rows that are no notes and are chosen; chosen notes are the roll's selection. */
  const [others, setOthers] = useState<ReadonlySet<string>>(new Set());
  const [at, setAt] = useState<{ readonly row: number; readonly column: number }>({ row: 0, column: 0 });
  const [editing, setEditing] = useState<string | null>(null);
  const here = shown[Math.min(at.row, shown.length - 1)];
  const column = COLUMNS[at.column] as ColumnId;
  const isChosen = (row: TableRow): boolean =>
    row.kind === 'note' ? selection.get(row.part.id)?.has(row.note.id) === true : others.has(row.key);
  const chosen = () => shown.filter(isChosen);

  const choose = (list: readonly TableRow[]) => {
    dispatch(selectingActions.selected(notesOfRows(list)));
    setOthers(new Set(list.filter(({ kind }) => kind !== 'note').map(({ key }) => key)));
  };
  const carryOut = (made: Result<Edit> | null) => {
    if (!made) return;
    if (made.ok) {
      // A change of tempo moves notes or bars, as was chosen.
      const carried = dispatch(commitLane(made.value));
      dispatch(said(carried?.label ?? ''));
    } else {
      toast.error(made.problem.message);
      dispatch(said(made.problem.message));
    }
  };
  const inWords = (row: TableRow): string => {
    const found = row.kind === 'note' ? noticed.get(row.part.id)?.get(row.note.id) : undefined;
    return `${rowInWords(row, meterMap, arrangement.ppq)}${found ? `. ${found}` : ''}`;
  };
  const say = (row: TableRow | undefined) => row && dispatch(said(inWords(row)));
  const goTo = (row: number, to = at.column) => {
    const next = {
      row: Math.max(0, Math.min(shown.length - 1, row)),
      column: Math.max(0, Math.min(COLUMNS.length - 1, to)),
    };
    setAt(next);
    virtual.scrollToIndex(next.row);
    const own = shown[next.row];
    if (next.row !== at.row) say(own);
    else if (own)
      dispatch(
        said(`${HEADINGS[COLUMNS[next.column] as ColumnId]}: ${cellText(own, COLUMNS[next.column] as ColumnId)}`),
      );
  };
  const take = (text: string) => {
    setEditing(null);
    scroller.current?.focus();
    if (!here || !EDITABLE.has(column)) return;
    const list = isChosen(here) ? chosen() : [here];
    carryOut(editCells(arrangement, list, column as TableColumn, text));
  };
  const edit = () => {
    if (!here) return;
    if (EDITABLE.has(column)) setEditing(startText(here, column, cellText(here, column)));
    else dispatch(said('This cell says what it is: it cannot be changed.'));
  };
  const rest = (make: typeof deleteRows) => {
    const list = chosen();
    const made = make(arrangement, list.length > 0 ? list : here ? [here] : []);
    if (made) carryOut({ ok: true, value: made });
    else dispatch(said('Nothing here can be.'));
  };

  const front = useAppSelector(selectFrontPart);
  const add = (kind: AddedKind) => {
    const part = here && 'part' in here ? here.part : front;
    const made = addRow(arrangement, kind, here?.tick ?? 0, part);
    carryOut(made);
    if (made.ok) setNarrowed((now) => ({ ...ALL, bars: now.bars }));
    scroller.current?.focus();
  };

  const onKeyDown = (event: KeyboardEvent) => {
    if (editing !== null || event.altKey) return;
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW_HEIGHT) - 1);
    const acts: readonly (readonly [key: string, act: () => void])[] = [
      ['ArrowDown', () => goTo(at.row + 1)],
      ['ArrowUp', () => goTo(at.row - 1)],
      ['ArrowLeft', () => goTo(at.row, at.column - 1)],
      ['ArrowRight', () => goTo(at.row, at.column + 1)],
      ['PageDown', () => goTo(at.row + page)],
      ['PageUp', () => goTo(at.row - page)],
      ['Home', () => goTo(0)],
      ['End', () => goTo(shown.length - 1)],
      ['Enter', edit],
      ['F2', edit],
      [' ', () => here && choose(isChosen(here) ? chosen().filter((row) => row !== here) : [...chosen(), here])],
      ['Delete', () => rest(deleteRows)],
      ['Escape', onClose],
    ];
    const found = acts.find(([key]) => key === event.key);
    const all = event.key === 'a' && (event.ctrlKey || event.metaKey);
    const twice = event.key === 'd' && (event.ctrlKey || event.metaKey);
    if (!found && !all && !twice) return;
    event.preventDefault();
    event.stopPropagation();
    if (all) choose(shown);
    else if (twice) rest(doubleRows);
    else found?.[1]();
  };
  const onRow = (event: MouseEvent, index: number, to: number) => {
    const row = shown[index];
    if (!row) return;
    setAt({ row: index, column: to });
    setEditing(null);
    if (event.shiftKey) {
      const [from, until] = [Math.min(at.row, index), Math.max(at.row, index)];
      choose(shown.slice(from, until + 1));
    } else if (event.ctrlKey || event.metaKey)
      choose(isChosen(row) ? chosen().filter((own) => own !== row) : [...chosen(), row]);
    else choose([row]);
    say(row);
  };

  // What is looked for may have fewer rows than there were.
  useEffect(() => setAt((now) => ({ ...now, row: Math.max(0, Math.min(now.row, shown.length - 1)) })), [shown.length]);
  useEffect(() => scroller.current?.focus(), []);

  const sorted = sorting[0];
  const count = shown.length;
  return (
    <section aria-label="Table" className="flex h-full min-h-0 flex-col text-sm">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-strong bg-desk px-3 py-1">
        <Button title="Back to the roll" hint="Esc" onClick={onClose}>
          <ArrowLeft size={16} aria-hidden /> Desk
        </Button>
        <h2 className="font-serif text-base">Table</h2>
        <Narrow narrowed={narrowed} onChange={setNarrowed} />
        <span role="status" className="text-soft">
          {counted(count, 'row')}
        </span>
        <span className="ml-auto flex gap-1">
          <select
            aria-label="Add a row at this place"
            title="A row where the chosen cell stands, in its part"
            className={BOX}
            value=""
            onChange={({ target }) => add(target.value as AddedKind)}
          >
            <option value="">Add…</option>
            {ADDED_KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {ROW_KIND_NAMES[kind]}
              </option>
            ))}
          </select>
          <Button
            hint="Ctrl+D"
            title="A second of each chosen note or message beside it"
            onClick={() => rest(doubleRows)}
          >
            Double
          </Button>
          <Button hint="Del" title="Take the chosen rows away" onClick={() => rest(deleteRows)}>
            Delete
          </Button>
        </span>
      </header>
      <div
        ref={scroller}
        role="grid"
        aria-label="Rows. Arrows go from cell to cell, Enter edits, Space chooses a row."
        aria-rowcount={count + 1}
        aria-colcount={COLUMNS.length}
        aria-multiselectable
        aria-activedescendant={count > 0 ? `cell-${at.row}-${at.column}` : undefined}
        tabIndex={0}
        data-testid="table"
        className="min-h-0 flex-1 overflow-auto [outline-offset:-2px]"
        onKeyDown={onKeyDown}
      >
        <div
          role="row"
          tabIndex={-1}
          aria-rowindex={1}
          className={`${WIDTHS} sticky top-0 z-10 border-b border-strong bg-desk`}
        >
          {COLUMNS.map((id, index) => (
            <div
              key={id}
              role="columnheader"
              tabIndex={-1}
              aria-colindex={index + 1}
              aria-sort={sorted?.id === id ? (sorted.desc ? 'descending' : 'ascending') : 'none'}
            >
              <button
                type="button"
                tabIndex={-1}
                className="w-full px-2 py-1 text-left font-semibold hover:bg-shade"
                title="Sort by this; again the other way, then by place"
                onClick={() => table.getColumn(id)?.toggleSorting()}
              >
                {HEADINGS[id]}
                {sorted?.id === id ? (sorted.desc ? ' ▾' : ' ▴') : ''}
              </button>
            </div>
          ))}
        </div>
        <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start, key }) => {
            const row = shown[index] as TableRow;
            const picked = isChosen(row);
            return (
              <div
                key={key}
                role="row"
                tabIndex={-1}
                aria-rowindex={index + 2}
                aria-selected={picked}
                aria-label={inWords(row)}
                className={`${WIDTHS} absolute inset-x-0 items-center border-b border-rule ${picked ? 'bg-selected' : ''}`}
                style={{ height: ROW_HEIGHT, transform: `translateY(${start}px)` }}
              >
                {COLUMNS.map((id, place) => {
                  const active = index === at.row && place === at.column;
                  return (
                    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid takes the keys
                    <div
                      key={id}
                      id={`cell-${index}-${place}`}
                      role="gridcell"
                      aria-colindex={place + 1}
                      aria-readonly={!EDITABLE.has(id)}
                      tabIndex={-1}
                      className={`h-full truncate px-2 leading-7 tabular-nums ${active ? 'outline-2 outline-fold [outline-offset:-2px] outline' : ''}`}
                      onClick={(event) => onRow(event, index, place)}
                      onDoubleClick={edit}
                    >
                      {active && editing !== null ? (
                        <CellField
                          label={HEADINGS[id]}
                          text={editing}
                          onTaken={take}
                          onCancel={() => {
                            setEditing(null);
                            scroller.current?.focus();
                          }}
                        />
                      ) : (
                        cellText(row, id)
                      )}
                    </div>
                  );
                })}
              </div>
            );
          })}
        </div>
        {count === 0 && <p className="p-4 text-soft">There is no such row. Narrow it less.</p>}
      </div>
    </section>
  );
};

const CellField = ({
  label,
  text,
  onTaken,
  onCancel,
}: {
  label: string;
  text: string;
  onTaken: (text: string) => void;
  onCancel: () => void;
}) => {
  const [typed, setTyped] = useState(text);
  return (
    <input
      aria-label={label}
      // biome-ignore lint/a11y/noAutofocus: the cell was opened to be typed into
      autoFocus
      className="h-full w-full bg-sheet"
      autoComplete="off"
      value={typed}
      onFocus={(event) => event.currentTarget.select()}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={onCancel}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') onTaken(typed);
        if (event.key === 'Escape') onCancel();
      }}
    />
  );
};

const BOX = 'min-h-7 min-w-0 border border-strong bg-sheet px-1';

const Narrow = ({ narrowed, onChange }: { narrowed: Narrowed; onChange: (next: Narrowed) => void }) => {
  const { parts } = useAppSelector(selectArrangement);
  const set = (change: Partial<Narrowed>) => onChange({ ...narrowed, ...change });
  return (
    <>
      <select
        aria-label="Kind of row"
        className={BOX}
        value={narrowed.kind}
        onChange={({ target }) => set({ kind: target.value as RowKind | '' })}
      >
        <option value="">every kind</option>
        {ROW_KINDS.map((kind) => (
          <option key={kind} value={kind}>
            {ROW_KIND_NAMES[kind]}
          </option>
        ))}
      </select>
      <select
        aria-label="Part"
        className={`${BOX} max-w-36`}
        value={narrowed.partId ?? ''}
        onChange={({ target }) => set({ partId: target.value === '' ? null : Number(target.value) })}
      >
        <option value="">every part</option>
        {parts.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
      {narrowed.kind === 'tempo' && <KeepTimes />}
      <input
        aria-label="Bars"
        placeholder="bars, as 3-8"
        className={`${BOX} w-24`}
        value={narrowed.bars}
        onChange={({ target }) => set({ bars: target.value })}
      />
      <input
        aria-label="Words"
        placeholder="words"
        className={`${BOX} w-28`}
        value={narrowed.words}
        onChange={({ target }) => set({ words: target.value })}
      />
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="accent-[var(--fold)]"
          checked={narrowed.selectedOnly}
          onChange={() => set({ selectedOnly: !narrowed.selectedOnly })}
        />
        only what is selected
      </label>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="accent-[var(--fold)]"
          checked={narrowed.foundOnly}
          onChange={() => set({ foundOnly: !narrowed.foundOnly })}
        />
        only what has a finding
      </label>
    </>
  );
};
