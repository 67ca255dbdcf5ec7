/** A new part with nothing in it, for an instrument. */

import { addEmptyPart, instrumentById } from '@crispfold/core';
import { Button } from '../../../ui/Button.js';
import { tellDone } from '../../actions/carryOutEdit.js';
import { InstrumentOptions } from '../../controls/InstrumentOptions.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { partsShownActions } from '../../state/partsShownSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';

/** What it begins with. */
const FIRST = { instrument: 'flute' };

export const EmptyPartPanel = () => {
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const [{ instrument }, change] = useLastSettings('emptyPart', FIRST);
  const close = () => dispatch(layoutActions.toolShown(null));
  const choose = (id: string) => {
    change({ instrument: id });
    const { lowest, highest } = instrumentById(id);
    const edit = addEmptyPart(arrangement, id);
    const [added] = edit.changes;
    // An odd number of its own: it is heard before it is there.
    if (added?.kind === 'partAdded')
      void player.sound({ ...added.part, id: -1 }, Math.round((lowest + highest) / 2), 90);
  };
  return (
    <SettingsPanel
      title="Add an empty part"
      explanation="Adds a part below all others, on a channel that is free. Notes are drawn, pasted or dealt into it."
      onClose={close}
    >
      <form
        className="flex flex-col gap-3 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          const edit = addEmptyPart(arrangement, instrument);
          dispatch(commit(edit));
          dispatch(partsShownActions.partBroughtForward(arrangement.nextPartId));
          dispatch(tellDone(edit.label));
          close();
        }}
      >
        <label className="grid grid-cols-[5.5rem_1fr] items-center gap-2">
          Instrument
          <select
            className="min-h-7 min-w-0 border border-strong bg-sheet px-1"
            value={instrument}
            onChange={(event) => choose(event.target.value)}
          >
            <InstrumentOptions />
          </select>
        </label>
        <Button look="main" type="submit" className="self-start">
          Add {instrumentById(instrument).name}
        </Button>
      </form>
    </SettingsPanel>
  );
};
