/** Line up: notes of several parts that nearly meet get one start or one end; what moves, and how far, is shown before. */

import { type Length, type LineUp, lineUp, type PartId, selectionSize } from '@crispfold/core';
import { useMemo } from 'react';
import { counted } from '../../../ui/words.js';
import { carryOutEdit } from '../../actions/carryOutEdit.js';
import { LengthControl } from '../../controls/ParameterControl.js';
import { DoOrHear, SettingsPanel, useTried } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectEditable } from '../../state/selectors.js';

const BOX = 'min-h-7 max-w-full border border-strong bg-sheet px-1';

/** What it begins with. */
const FIRST: LineUp = { edge: 'start', to: 'middle', window: { unit: 'ms', value: 60 }, keepLean: false };

export const LineUpPanel = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const [options, change] = useLastSettings('lineUp', FIRST);
  const made = useMemo(() => lineUp(arrangement, selection, options), [arrangement, selection, options]);
  useTried(made.edit);
  const close = () => dispatch(layoutActions.toolShown(null));
  const involved = arrangement.parts.filter((part) => selection.has(part.id));
  const apply = () => {
    if (!made.edit) return;
    dispatch(
      carryOutEdit(
        made.edit,
        (now, chosen) => lineUp(now, chosen, options).edit,
        'No note of these parts nearly meets another.',
      ),
    );
    close();
  };
  const words =
    involved.length < 2
      ? 'Select notes of two parts or more.'
      : made.moved === 0
        ? 'No note of these parts nearly meets another.'
        : `${counted(made.moved, 'note')} of ${counted(involved.length, 'part')} move, ${Math.round(made.furthest)} ms at most. The other ends stay.`;
  return (
    <SettingsPanel
      title="Line up"
      explanation="Brings notes of the selected parts that nearly meet to one start, or one end. Other notes stay."
      onClose={close}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          apply();
        }}
      >
        <label className="flex items-center gap-2">
          Their
          <select
            className={BOX}
            value={options.edge}
            onChange={(event) => change({ edge: event.target.value as LineUp['edge'] })}
          >
            <option value="start">starts</option>
            <option value="end">ends</option>
          </select>
        </label>
        <label className="flex items-center gap-2">
          Go to
          <select
            className={BOX}
            value={typeof options.to === 'string' ? options.to : String(options.to.partId)}
            onChange={({ target: { value } }) =>
              change({ to: value === 'earliest' || value === 'middle' ? value : { partId: Number(value) as PartId } })
            }
          >
            <option value="middle">the middle one</option>
            <option value="earliest">the earliest</option>
            {involved.map((part) => (
              <option key={part.id} value={String(part.id)}>
                {part.name}
              </option>
            ))}
          </select>
        </label>
        <div className="flex items-center gap-2">
          Within
          <LengthControl
            label="Within"
            value={options.window}
            onChange={(window: Length | null) => window && change({ window })}
          />
        </div>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={options.keepLean}
            onChange={() => change({ keepLean: !options.keepLean })}
          />
          Keep each part’s own lean
        </label>
        <p role="status" className="text-sm text-soft">
          {words}
        </p>
        <DoOrHear disabled={!made.edit}>Line up · {made.moved}</DoOrHear>
        {selectionSize(selection) === 0 && <p className="text-sm">Nothing is selected.</p>}
      </form>
    </SettingsPanel>
  );
};
