/** Repeat several times: what is selected follows itself so often, on the beat or on the bar. */

import { type Edit, repeatNotes, type Selection, selectionSize, withControllers } from '@crispfold/core';
import { useMemo } from 'react';
import { NumberField } from '../../../ui/NumberField.js';
import { counted } from '../../../ui/words.js';
import { carryOutEdit } from '../../actions/carryOutEdit.js';
import { DoOrHear, SettingsPanel, useTried } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { selectArrangement, selectEditable } from '../../state/selectors.js';

/** More repeats than this are no arrangement; what else is too long, the core says. */
const MOST_TIMES = 100_000;
/** Of more notes than these the effect is not drawn ahead. */
const MOST_TRIED = 8000;

/** What it begins with. */
const FIRST: { readonly times: number; readonly unit: 'beat' | 'bar' } = { times: 3, unit: 'bar' };

export const RepeatPanel = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const [options, change] = useLastSettings('repeat', FIRST);
  const size = selectionSize(selection);
  const made = useMemo(
    () => repeatNotes(arrangement, selection, options.unit, options.times),
    [arrangement, selection, options],
  );
  useTried(made.ok && size * options.times <= MOST_TRIED ? made.value.edit : null);
  const controllersToo = useAppSelector(({ editing }) => editing.controllersToo);
  const withThem = (edit: Edit, chosen: Selection, now = arrangement) =>
    controllersToo ? withControllers(now, edit, chosen) : edit;
  const close = () => dispatch(layoutActions.toolShown(null));
  return (
    <SettingsPanel
      title="Repeat several times"
      explanation="Puts what is selected after itself, again and again. Parts are kept apart, spacing and loudness stay."
      onClose={close}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (!made.ok) return;
          dispatch(
            carryOutEdit(withThem(made.value.edit, selection), (now, chosen) => {
              const again = repeatNotes(now, chosen, options.unit, options.times);
              return again.ok ? withThem(again.value.edit, chosen, now) : null;
            }),
          );
          dispatch(selectingActions.selected(made.value.selection));
          close();
        }}
      >
        <div className="flex items-center gap-2">
          Times
          <NumberField
            label="Times"
            min={1}
            max={MOST_TIMES}
            className="w-24"
            value={options.times}
            onTaken={(times) => change({ times: Math.round(times) })}
          />
        </div>
        <label className="flex items-center gap-2">
          Each begins on
          <select
            className="min-h-7 border border-strong bg-sheet px-1"
            value={options.unit}
            onChange={(event) => change({ unit: event.target.value as 'beat' | 'bar' })}
          >
            <option value="beat">the next beat</option>
            <option value="bar">the next bar</option>
          </select>
        </label>
        <p role={made.ok || size === 0 ? 'status' : 'alert'} className="text-sm text-soft">
          {size === 0
            ? 'Nothing is selected. Select notes first.'
            : made.ok
              ? `${counted(size * options.times, 'note')} will be added.`
              : made.problem.message}
        </p>
        <DoOrHear disabled={!made.ok}>Repeat</DoOrHear>
      </form>
    </SettingsPanel>
  );
};
