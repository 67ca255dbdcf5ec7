/** Above the table: what the rows are narrowed to, and what is done with those that are chosen. */
import {
  ADDED_KINDS,
  type AddedKind,
  deleteRows,
  doubleRows,
  ROW_KIND_NAMES,
  ROW_KINDS,
  type RowKind,
} from '@crispfold/core';
import { ArrowLeft } from 'lucide-react';
import { Button } from '../../ui/Button.js';
import { counted } from '../../ui/words.js';
import { KeepTimes } from '../controls/KeepTimes.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import type { Narrowed } from './tableModel.js';
import type { Table } from './useTable.js';

const BOX = 'min-h-7 min-w-0 border border-strong bg-sheet px-1';

export const TableHead = ({ table, onClose }: { table: Table; onClose: () => void }) => (
  <header className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-strong bg-desk px-3 py-1">
    <Button title="Back to the roll" hint="Esc" onClick={onClose}>
      <ArrowLeft size={16} aria-hidden /> Desk
    </Button>
    <h2 className="font-serif text-base">Table</h2>
    <Narrow narrowed={table.narrowed} onChange={table.setNarrowed} />
    <span role="status" className="text-soft">
      {counted(table.shown.length, 'row')}
    </span>
    <span className="ml-auto flex gap-1">
      <select
        aria-label="Add a row at this place"
        title="A row where the chosen cell stands, in its part"
        className={BOX}
        value=""
        onChange={({ target }) => table.add(target.value as AddedKind)}
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
        onClick={() => table.remake(doubleRows)}
      >
        Double
      </Button>
      <Button hint="Del" title="Take the chosen rows away" onClick={() => table.remake(deleteRows)}>
        Delete
      </Button>
    </span>
  </header>
);

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
      <Check
        words="only what is selected"
        checked={narrowed.selectedOnly}
        onTurned={() => set({ selectedOnly: !narrowed.selectedOnly })}
      />
      <Check
        words="only what has a finding"
        checked={narrowed.foundOnly}
        onTurned={() => set({ foundOnly: !narrowed.foundOnly })}
      />
    </>
  );
};

const Check = ({ words, checked, onTurned }: { words: string; checked: boolean; onTurned: () => void }) => (
  <label className="flex items-center gap-1.5">
    <input type="checkbox" className="accent-[var(--fold)]" checked={checked} onChange={onTurned} />
    {words}
  </label>
);
