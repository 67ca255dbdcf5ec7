/** Everything as rows: narrowed, sorted, edited in place, by keyboard alone too. The selection is the roll's. */
import { deleteRows, doubleRows, type TableRow } from '@crispfold/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, memo, type RefObject, useEffect, useRef, useState } from 'react';
import { TableHead } from './TableHead.js';
import { COLUMNS, type ColumnId, cellByKey, editable, HEADINGS, type SortedBy } from './tableModel.js';
import { type Table, useTable } from './useTable.js';

const ROW_HEIGHT = 28;

const WIDTHS =
  'grid grid-cols-[6rem_5rem_minmax(6rem,1fr)_6.5rem_minmax(6rem,0.9fr)_minmax(5rem,0.8fr)_minmax(9rem,1.4fr)_4.5rem]';

/** What keys do in the grid. */
const useGridKeys = (table: Table, scroller: RefObject<HTMLDivElement | null>, onClose: () => void) => {
  const actOf = (event: KeyboardEvent): (() => void) | null => {
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW_HEIGHT) - 1);
    if (event.ctrlKey || event.metaKey) {
      if (event.key === 'a') return table.chooseAll;
      if (event.key === 'd') return () => table.remake(doubleRows);
    }
    const to = cellByKey(event.key, table.at, table.shown.length, page);
    if (to) return () => table.goTo(to);
    switch (event.key) {
      case 'Enter':
      case 'F2':
        return table.edit;
      case ' ':
        return table.turnHere;
      case 'Delete':
        return () => table.remake(deleteRows);
      case 'Escape':
        return onClose;
      default:
        return null;
    }
  };
  return (event: KeyboardEvent): void => {
    const act = table.editing !== null || event.altKey ? null : actOf(event);
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
};

export const TableView = ({ onClose }: { onClose: () => void }) => {
  const scroller = useRef<HTMLDivElement>(null);
  const toRow = useRef<(row: number) => void>(() => undefined);
  const table = useTable(
    (row) => toRow.current(row),
    () => scroller.current?.focus(),
  );
  const { shown, at } = table;
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  toRow.current = (row) => virtual.scrollToIndex(row);
  const onKeyDown = useGridKeys(table, scroller, onClose);
  useEffect(() => scroller.current?.focus(), []);
  return (
    <section aria-label="Table" className="flex h-full min-h-0 flex-col text-sm">
      <TableHead table={table} onClose={onClose} />
      <div
        ref={scroller}
        role="grid"
        aria-label="Rows. Arrows go from cell to cell, Enter edits, Space chooses a row."
        aria-rowcount={shown.length + 1}
        aria-colcount={COLUMNS.length}
        aria-multiselectable
        aria-activedescendant={shown.length > 0 ? `cell-${at.row}-${at.column}` : undefined}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto [outline-offset:-2px]"
        onKeyDown={onKeyDown}
      >
        <Headings sorting={table.sorting} onSort={table.sort} />
        {/* Drawn as they scroll by: a hundred thousand of them are too many to be there at once. */}
        <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start, key }) => {
            const row = shown[index];
            return row && <Row key={key} row={row} index={index} top={start} table={table} />;
          })}
        </div>
        {shown.length === 0 && <p className="p-4 text-soft">There is no such row. Narrow it less.</p>}
      </div>
    </section>
  );
};

const Headings = memo(({ sorting, onSort }: { sorting: SortedBy | null; onSort: (id: ColumnId) => void }) => (
  <div
    role="row"
    tabIndex={-1}
    aria-rowindex={1}
    className={`${WIDTHS} sticky top-0 z-10 border-b border-strong bg-desk`}
  >
    {COLUMNS.map((id, index) => {
      const own = sorting?.id === id ? sorting : null;
      return (
        <div
          key={id}
          role="columnheader"
          tabIndex={-1}
          aria-colindex={index + 1}
          aria-sort={own ? (own.desc ? 'descending' : 'ascending') : 'none'}
        >
          <button
            type="button"
            tabIndex={-1}
            className="w-full px-2 py-1 text-left font-semibold hover:bg-shade"
            title="Sort by this; again the other way, then by place"
            onClick={() => onSort(id)}
          >
            {HEADINGS[id]}
            {own ? (own.desc ? ' ▾' : ' ▴') : ''}
          </button>
        </div>
      );
    })}
  </div>
));

const Row = ({ row, index, top, table }: { row: TableRow; index: number; top: number; table: Table }) => {
  const picked = table.isChosen(row);
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 2}
      aria-selected={picked}
      aria-label={table.inWords(row)}
      className={`${WIDTHS} absolute inset-x-0 items-center border-b border-rule ${picked ? 'bg-selected' : ''}`}
      style={{ height: ROW_HEIGHT, transform: `translateY(${top}px)` }}
    >
      {COLUMNS.map((id, place) => {
        const active = index === table.at.row && place === table.at.column;
        return (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the grid takes the keys
          <div
            key={id}
            id={`cell-${index}-${place}`}
            role="gridcell"
            aria-colindex={place + 1}
            aria-readonly={editable(id) === undefined}
            tabIndex={-1}
            className={`h-full truncate px-2 leading-7 tabular-nums ${active ? 'outline-2 outline-fold [outline-offset:-2px] outline' : ''}`}
            onClick={({ shiftKey, ctrlKey, metaKey }) =>
              table.click(index, place, { shift: shiftKey, control: ctrlKey || metaKey })
            }
            onDoubleClick={table.edit}
          >
            {active && table.editing !== null ? (
              <CellField label={HEADINGS[id]} text={table.editing} onTaken={table.take} onCancel={table.leaveCell} />
            ) : (
              table.textOf(row, id)
            )}
          </div>
        );
      })}
    </div>
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
