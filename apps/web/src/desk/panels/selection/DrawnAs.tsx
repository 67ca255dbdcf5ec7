/** How drawn notes are made: their length apart from the grid, their loudness, and whether they fit in with the others. */

import { NOTE_VALUES } from '@crispfold/core';
import { NumberField } from '../../../ui/NumberField.js';
import { useAppDispatch } from '../../session/desk.js';
import { editingActions } from '../../state/editingSlice.js';
import { useAppSelector } from '../../state/root.js';

export const DrawnAs = () => {
  const dispatch = useAppDispatch();
  const { length, velocity, fits } = useAppSelector(({ editing }) => editing.drawn);
  return (
    <section aria-label="New notes" className="flex flex-col gap-1.5 border-b border-strong p-3 text-sm">
      <h3 className="font-serif text-base">New notes</h3>
      <label className="flex items-center gap-2">
        Length
        <select
          className="min-h-7 min-w-0 border border-strong bg-sheet px-1"
          value={length === null ? '' : String(length)}
          onChange={({ target: { value } }) =>
            dispatch(editingActions.drawnAs({ length: value === '' ? null : Number(value) }))
          }
        >
          <option value="">that of the grid</option>
          {NOTE_VALUES.map(([fraction, name]) => (
            <option key={name} value={String(fraction)}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-[var(--fold)]"
          checked={fits}
          onChange={() => dispatch(editingActions.drawnAs({ fits: !fits }))}
        />
        Start and loudness as the notes they join
      </label>
      <span className="flex items-center gap-2">
        {fits ? 'Else velocity' : 'Velocity'}
        <NumberField
          label="Velocity of new notes"
          min={1}
          max={127}
          className="w-16"
          value={velocity}
          onTaken={(next) => dispatch(editingActions.drawnAs({ velocity: Math.round(next) }))}
        />
      </span>
    </section>
  );
};
