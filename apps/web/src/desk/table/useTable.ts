/** The table's state, and what is done in it. */
import {
  type AddedKind,
  addRow,
  type deleteRows,
  type doubleRows,
  type Edit,
  editCells,
  notesOfRows,
  type Result,
  rowInWords,
  type TableRow,
} from '@crispfold/core';
import { useDeferredValue, useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { commitLane } from '../actions/commitLane.js';
import { useAppDispatch } from '../session/desk.js';
import { selectFindings } from '../state/findings.js';
import { selectMeterMap, selectTempoMap } from '../state/maps.js';
import { useAppSelector } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';
import { selectArrangement, selectFrontPart } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import {
  ALL,
  type CellAt,
  COLUMNS,
  type ColumnId,
  cellText,
  chosenByClick,
  chosenTurned,
  editable,
  HEADINGS,
  type Maps,
  type Noticed,
  noticedOf,
  rowsOf,
  type SortedBy,
  sortedNext,
  sortedRows,
  startText,
  within,
} from './tableModel.js';

/** Keeps an Edit, or says why there is none. */
const useCarryOut = () => {
  const dispatch = useAppDispatch();
  return (made: Result<Edit> | null): void => {
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
};

/** The rows as they are narrowed and sorted, and what of them is chosen: chosen notes are the roll's selection. */
const useRows = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(({ selecting }) => selecting.selection);
  const findings = useAppSelector(selectFindings);
  const [narrowed, setNarrowed] = useState(ALL);
  const [sorting, setSorting] = useState<SortedBy | null>(null);
  const [others, setOthers] = useState<ReadonlySet<string>>(new Set());
  const noticed = useMemo(() => noticedOf(findings, arrangement.parts), [findings, arrangement.parts]);
  const wanted = useDeferredValue(narrowed);
  const rows = useMemo(
    () => rowsOf(arrangement, wanted, selection, noticed),
    [arrangement, wanted, selection, noticed],
  );
  const shown = useMemo(() => sortedRows(rows, sorting), [rows, sorting]);
  const isChosen = (row: TableRow): boolean =>
    row.kind === 'note' ? selection.get(row.part.id)?.has(row.note.id) === true : others.has(row.key);
  const choose = (list: readonly TableRow[]) => {
    dispatch(selectingActions.selected(notesOfRows(list)));
    setOthers(new Set(list.filter(({ kind }) => kind !== 'note').map(({ key }) => key)));
  };
  return {
    narrowed,
    setNarrowed,
    sorting,
    sort: (id: ColumnId) => setSorting((now) => sortedNext(now, id)),
    noticed,
    shown,
    isChosen,
    chosen: () => shown.filter(isChosen),
    choose,
  };
};

const inWordsOf = (row: TableRow, { meterMap, ppq }: Maps, noticed: Noticed): string => {
  const found = row.kind === 'note' ? noticed.get(row.part.id)?.get(row.note.id) : undefined;
  return `${rowInWords(row, meterMap, ppq)}${found ? `. ${found}` : ''}`;
};

/** See the file's head. `onCell` brings a row to view; `onDone` has the keys again after a cell was edited. */
export const useTable = (onCell: (row: number) => void, onDone: () => void) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const tempoMap = useAppSelector(selectTempoMap);
  const front = useAppSelector(selectFrontPart);
  const carryOut = useCarryOut();
  const rows = useRows();
  const { shown, chosen, choose, isChosen, noticed, setNarrowed } = rows;
  const [at, setAt] = useState<CellAt>({ row: 0, column: 0 });
  const [editing, setEditing] = useState<string | null>(null);
  const maps: Maps = { ppq: arrangement.ppq, meterMap, tempoMap };
  const here = shown[Math.min(at.row, shown.length - 1)];
  const column = COLUMNS[at.column] ?? 'place';
  const inWords = (row: TableRow): string => inWordsOf(row, maps, noticed);
  // What is looked for may have fewer rows than there were.
  useEffect(() => setAt((now) => within(now, Math.max(1, shown.length))), [shown.length]);

  const goTo = (next: CellAt) => {
    setAt(next);
    onCell(next.row);
    const row = shown[next.row];
    const id = COLUMNS[next.column] ?? 'place';
    if (row) dispatch(said(next.row === at.row ? `${HEADINGS[id]}: ${cellText(row, id, maps)}` : inWords(row)));
  };
  const take = (text: string) => {
    setEditing(null);
    onDone();
    const own = editable(column);
    if (here && own) carryOut(editCells(arrangement, isChosen(here) ? chosen() : [here], own, text));
  };
  const edit = () => {
    if (!here) return;
    if (editable(column)) setEditing(startText(here, column, maps));
    else dispatch(said('This cell says what it is: it cannot be changed.'));
  };
  const remake = (make: typeof deleteRows | typeof doubleRows) => {
    const list = chosen();
    const made = make(arrangement, list.length > 0 ? list : here ? [here] : []);
    if (made) carryOut({ ok: true, value: made });
    else dispatch(said('Nothing here can be.'));
  };
  const add = (kind: AddedKind) => {
    const made = addRow(arrangement, kind, here?.tick ?? 0, here && 'part' in here ? here.part : front);
    carryOut(made);
    if (made.ok) setNarrowed((now) => ({ ...ALL, bars: now.bars }));
    onDone();
  };
  const click = (index: number, to: number, keys: { readonly shift: boolean; readonly control: boolean }) => {
    const row = shown[index];
    if (!row) return;
    setAt({ row: index, column: to });
    setEditing(null);
    choose(chosenByClick(shown, at.row, index, chosen(), keys));
    dispatch(said(inWords(row)));
  };
  const leaveCell = () => {
    setEditing(null);
    onDone();
  };
  return {
    ...rows,
    at,
    editing,
    inWords,
    textOf: (row: TableRow, id: ColumnId) => cellText(row, id, maps),
    goTo,
    take,
    edit,
    leaveCell,
    remake,
    add,
    click,
    chooseAll: () => choose(shown),
    turnHere: () => here && choose(chosenTurned(chosen(), here)),
  };
};

/** What {@link useTable} answers. */
export type Table = ReturnType<typeof useTable>;
