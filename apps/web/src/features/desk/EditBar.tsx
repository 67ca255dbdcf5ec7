/** Snapping, undo and the view, in reach of the hand. */
import { entryAt } from '@crispfold/core';
import { Maximize, Pencil, Redo2, Rows3, Undo2 } from 'lucide-react';
import { useAppDispatch, useAppSelector } from '../../app/store.js';
import { Button } from '../../ui/Button.js';
import type { CommandContext } from './commands/command.js';
import { keyOf } from './commands/keyTable.js';
import { fitAll } from './commands/looking.js';
import { deskActions, SNAP_VALUES } from './deskSlice.js';
import { redo, undo } from './saving.js';

const SNAP_NAMES = [
  'Whole',
  'Half',
  'Quarter',
  'Eighth',
  'Eighth triplet',
  'Sixteenth',
  'Sixteenth triplet',
  'Thirty-second',
  'Sixty-fourth',
];

export const EditBar = ({ context }: { context: CommandContext }) => {
  const dispatch = useAppDispatch();
  const history = useAppSelector(({ desk }) => desk.history);
  const snapIndex = useAppSelector(({ desk }) => desk.snapIndex);
  const snapOn = useAppSelector(({ desk }) => desk.snapOn);
  const drawing = useAppSelector(({ desk }) => desk.drawing);
  const usedRowsOnly = useAppSelector(({ desk }) => desk.usedRowsOnly);
  const before = entryAt(history, history.position - 1);
  const after = entryAt(history, history.position);
  return (
    <div className="flex items-center gap-1" role="group" aria-label="Editing">
      <Button
        look="quiet"
        aria-label="Undo"
        title={before ? `Undo ${before.label}` : history.position > 0 ? 'Undo an earlier change' : 'Nothing to undo'}
        hint={keyOf('undo')}
        disabled={history.position === 0}
        onClick={() => dispatch(undo())}
      >
        <Undo2 size={16} aria-hidden />
      </Button>
      <Button
        look="quiet"
        aria-label="Redo"
        title={after ? `Redo ${after.label}` : 'Nothing to redo'}
        hint={keyOf('redo')}
        disabled={!after}
        onClick={() => dispatch(redo())}
      >
        <Redo2 size={16} aria-hidden />
      </Button>
      <Button
        look="quiet"
        pressed={drawing}
        aria-label="Draw notes"
        title="Draw notes in the front part"
        hint={keyOf('draw')}
        onClick={() => dispatch(deskActions.switched('drawing'))}
      >
        <Pencil size={16} aria-hidden />
      </Button>
      <label
        className="flex items-center gap-1.5 pl-1 text-sm"
        title={`Snapping (${keyOf('snap')}); ${keyOf('finer')} and ${keyOf('coarser')} change the grid`}
      >
        <input
          type="checkbox"
          aria-label="Snapping"
          className="accent-[var(--fold)]"
          checked={snapOn}
          onChange={() => dispatch(deskActions.switched('snapOn'))}
        />
        Snap
        <select
          aria-label="Snap to"
          className="min-h-7 border border-strong bg-sheet px-1"
          value={snapIndex}
          onChange={(event) => dispatch(deskActions.snapSet(Number(event.target.value)))}
        >
          {SNAP_VALUES.map((value, index) => (
            <option key={value} value={index}>
              {SNAP_NAMES[index]}
            </option>
          ))}
        </select>
      </label>
      <Button
        look="quiet"
        aria-label="Fit everything"
        title="Fit everything"
        hint={keyOf('fitAll')}
        onClick={() => fitAll(context)}
      >
        <Maximize size={16} aria-hidden />
      </Button>
      <Button
        look="quiet"
        pressed={usedRowsOnly}
        aria-label="Leave out unused rows"
        title="Leave out rows that no visible part uses"
        hint={keyOf('usedRows')}
        onClick={() => dispatch(deskActions.switched('usedRowsOnly'))}
      >
        <Rows3 size={16} aria-hidden />
      </Button>
    </div>
  );
};
