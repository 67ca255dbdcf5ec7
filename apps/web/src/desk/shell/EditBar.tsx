/** Undo, reach and snapping, in reach of the hand; what is switched on for a while shows beside them. */

import { entryAt } from '@crispfold/core';
import { Pencil, Plus, Redo2, Undo2 } from 'lucide-react';
import { Button } from '../../ui/Button.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppDispatch } from '../session/desk.js';
import { redo, undo } from '../session/saving.js';
import { editingActions, GRID_VALUES, type GridKind } from '../state/editingSlice.js';
import { lookingActions } from '../state/lookingSlice.js';
import { useAppSelector } from '../state/root.js';
import { type Reach, selectingActions } from '../state/selectingSlice.js';
import { switched } from '../state/switched.js';

const GRID_NAMES = ['Whole', 'Half', 'Quarter', 'Eighth', 'Sixteenth', 'Thirty-second', 'Sixty-fourth'];

const KINDS: readonly (readonly [kind: GridKind, name: string, sign: string])[] = [
  ['triplet', 'Triplet grid: 3', '3'],
  ['dotted', 'Dotted grid', '•'],
];

const REACHES: readonly (readonly [reach: Reach, words: string])[] = [
  ['front', 'Front part'],
  ['all', 'All shown'],
];

const SNAP_WORDS = { grid: '', notes: ' to notes', both: ' to both' } as const;

export const EditBar = () => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const history = useAppSelector(({ piece }) => piece.history);
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
      <ReachSwitch />
      <SnapControls />
      <SwitchedOn />
    </div>
  );
};

/** Which parts a click, a box and "select all" can pick from. */
const ReachSwitch = () => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const reach = useAppSelector(({ selecting }) => selecting.reach);
  return (
    <div
      role="radiogroup"
      aria-label="Reach"
      title={`What a click, a box and “select all” can pick (${keyOf('reach')}). Hidden and locked parts are never picked.`}
      className="mx-2 flex items-center text-sm"
    >
      <span className="pr-1.5 text-soft">Reach</span>
      {REACHES.map(([value, words]) => (
        <button
          key={value}
          type="button"
          role="radio"
          aria-checked={reach === value}
          onClick={() => reach !== value && dispatch(selectingActions.reachTurned())}
          className={`min-h-7 whitespace-nowrap border px-2 leading-none first-of-type:rounded-l-sm last-of-type:-ml-px last-of-type:rounded-r-sm ${
            reach === value ? 'border-ink bg-selected font-semibold' : 'border-strong bg-sheet hover:bg-shade'
          }`}
        >
          {words}
        </button>
      ))}
    </div>
  );
};

const SnapControls = () => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const { value, kind } = useAppSelector(({ editing }) => editing.grid);
  const pageGrid = useAppSelector(({ looking }) => looking.seeing.pageGrid);
  const snapOn = useAppSelector(({ editing }) => editing.snapOn);
  const snapTo = useAppSelector(({ editing }) => editing.snapTo);
  return (
    <div className="flex items-center gap-1 text-sm">
      <label className="flex items-center gap-1.5" title={`Snapping (${keyOf('snap')})`}>
        <input
          type="checkbox"
          aria-label="Snapping"
          className="accent-[var(--fold)]"
          checked={snapOn}
          onChange={() => dispatch(switched('snapOn'))}
        />
        Snap{SNAP_WORDS[snapTo]}
      </label>
      <select
        aria-label="Snap to"
        title={`The grid: Shift and 1 to 7 choose it; ${keyOf('snapNotes')} snaps to other notes`}
        className="min-h-7 border border-strong bg-sheet px-1"
        value={pageGrid ? 'page' : String(value)}
        onChange={({ target }) =>
          dispatch(
            target.value === 'page'
              ? lookingActions.seen({ pageGrid: true })
              : editingActions.gridSet({ value: Number(target.value) }),
          )
        }
      >
        <option value="page">As the page</option>
        {GRID_VALUES.map((own, index) => (
          <option key={own} value={String(own)}>
            {GRID_NAMES[index]}
          </option>
        ))}
      </select>
      {KINDS.map(([own, name, sign]) => (
        <Button
          key={own}
          look="quiet"
          className="!px-1.5 font-semibold"
          aria-label={name}
          title={name}
          hint={keyOf(own === 'triplet' ? 'triplet' : 'dotted')}
          pressed={kind === own}
          onClick={() => dispatch(editingActions.gridSet({ kind: kind === own ? 'plain' : own }))}
        >
          {sign}
        </Button>
      ))}
    </div>
  );
};

/** Drawing and adding, while they are on: a click on them switches them off. */
const SwitchedOn = () => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const drawing = useAppSelector(({ editing }) => editing.drawing);
  const adding = useAppSelector(({ selecting }) => selecting.adding);
  const controllersToo = useAppSelector(({ editing }) => editing.controllersToo);
  return (
    <>
      {drawing && (
        <Button
          pressed
          title="Drawing is on: stop drawing"
          hint={keyOf('draw')}
          onClick={() => dispatch(switched('drawing'))}
        >
          <Pencil size={14} aria-hidden /> Drawing
        </Button>
      )}
      {controllersToo && (
        <Button
          pressed
          title="Controllers go with notes that are moved, copied, stretched or deleted: leave them where they are"
          hint={keyOf('controllersToo')}
          onClick={() => dispatch(switched('controllersToo'))}
        >
          Controllers too
        </Button>
      )}
      {adding && (
        <Button
          pressed
          title="Every click adds or takes away: stop that"
          hint={keyOf('adding')}
          onClick={() => dispatch(switched('adding'))}
        >
          <Plus size={14} aria-hidden /> Adding
        </Button>
      )}
    </>
  );
};
