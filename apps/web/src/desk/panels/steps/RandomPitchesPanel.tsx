/** Random pitches: within a reach and a scale, by a chance number that gives the same again. */

import { type RandomPitches, randomPitches, selectionSize } from '@crispfold/core';
import { useMemo } from 'react';
import { NumberField } from '../../../ui/NumberField.js';
import { counted } from '../../../ui/words.js';
import { carryOutEdit } from '../../actions/carryOutEdit.js';
import { DoOrHear, SettingsPanel, useTried } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectEditable } from '../../state/selectors.js';

/** What it begins with. */
const FIRST: RandomPitches = { within: 7, scale: 'key', seed: 1 };

export const RandomPitchesPanel = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const [options, change] = useLastSettings('randomPitches', FIRST);
  const edit = useMemo(() => randomPitches(arrangement, selection, options), [arrangement, selection, options]);
  useTried(edit);
  const close = () => dispatch(layoutActions.toolShown(null));
  const number = (label: string, key: 'within' | 'seed', max: number) => (
    <div className="flex items-center gap-2">
      {label}
      <NumberField
        label={label}
        min={1}
        max={max}
        className="w-20"
        value={options[key]}
        onTaken={(value) => change({ [key]: Math.round(value) })}
      />
    </div>
  );
  const size = selectionSize(selection);
  return (
    <SettingsPanel
      title="Random pitches"
      explanation="Gives each selected note a pitch by chance. Times, lengths and loudness stay."
      onClose={close}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (!edit) return;
          dispatch(carryOutEdit(edit, (now, chosen) => randomPitches(now, chosen, options)));
          close();
        }}
      >
        {number('Semitones up or down, at most', 'within', 48)}
        <label className="flex items-center gap-2">
          Among
          <select
            className="min-h-7 border border-strong bg-sheet px-1"
            value={options.scale}
            onChange={(event) => change({ scale: event.target.value as RandomPitches['scale'] })}
          >
            <option value="key">pitches of the key</option>
            <option value="any">all pitches</option>
          </select>
        </label>
        {number('Chance number', 'seed', 9999)}
        <p role="status" className="text-sm text-soft">
          {size === 0 ? 'Nothing is selected. Select notes first.' : `On ${counted(size, 'selected note')}.`}
        </p>
        <DoOrHear disabled={!edit}>Random pitches</DoOrHear>
      </form>
    </SettingsPanel>
  );
};
