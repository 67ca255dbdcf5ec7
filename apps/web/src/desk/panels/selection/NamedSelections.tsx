/** Selections under names: kept with the arrangement, had again by a click. */

import { forgetSelection, LONGEST_SELECTION_NAME, nameSelection, selectionNamed, selectionSize } from '@crispfold/core';
import { X } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import { useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { useAppSelector } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { selectArrangement, selectEditable } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';

export const NamedSelections = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const [name, setName] = useState('');
  const known = arrangement.namedSelections ?? [];
  const size = selectionSize(selection);
  if (known.length === 0 && size === 0) return null;
  return (
    <section aria-label="Named selections" className="border-t border-strong p-3 text-sm">
      <h3 className="font-serif text-base">Named selections</h3>
      <ul>
        {known.map((one) => (
          <li key={one.name} className="flex items-center">
            <Button
              look="quiet"
              className="min-w-0 flex-1 !justify-start truncate !px-1"
              title={`Select the notes kept as ${one.name}`}
              onClick={() => {
                const found = selectionNamed(arrangement, one.name);
                dispatch(selectingActions.selected(found));
                dispatch(said(`${counted(selectionSize(found), 'note')} selected`));
              }}
            >
              {one.name}
            </Button>
            <Button
              look="quiet"
              className="!px-1"
              aria-label={`Forget ${one.name}`}
              title={`Forget ${one.name}; its notes stay`}
              onClick={() => dispatch(commit(forgetSelection(arrangement, one.name)))}
            >
              <X size={14} aria-hidden />
            </Button>
          </li>
        ))}
      </ul>
      {size > 0 && (
        <form
          className="flex gap-1 pt-1"
          onSubmit={(event) => {
            event.preventDefault();
            dispatch(commit(nameSelection(arrangement, name, selection)));
            setName('');
          }}
        >
          <input
            aria-label="Name for this selection"
            placeholder="Name"
            maxLength={LONGEST_SELECTION_NAME}
            className="min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1.5"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" disabled={name.trim() === ''} title="Keep this selection under the name">
            Keep
          </Button>
        </form>
      )}
    </section>
  );
};
