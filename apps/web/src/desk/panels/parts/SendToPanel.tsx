/** Send the selection to a part: by click, or by the part's number. */

import { type PartId, selectionSize, sendToPart } from '@crispfold/core';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import { carryOutEdit } from '../../actions/carryOutEdit.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { selectArrangement, selectEditable, selectOpenParts } from '../../state/selectors.js';

export const SendToPanel = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const open = useAppSelector(selectOpenParts);
  const size = selectionSize(selection);
  const close = () => dispatch(layoutActions.toolShown(null));
  const send = (target: PartId) => {
    const made = sendToPart(arrangement, selection, target);
    if (!made) return;
    dispatch(carryOutEdit(made.edit, (now, chosen) => sendToPart(now, chosen, target)?.edit ?? null));
    dispatch(selectingActions.selected(made.selection));
    close();
  };
  return (
    <SettingsPanel
      title="Send to a part"
      explanation="Takes the selected notes out of their parts and puts them into another, where they are in time and pitch."
      onClose={close}
      onDigit={(digit) => {
        const part = open[digit - 1];
        if (part) send(part.id);
      }}
    >
      <p role="status" className="pb-2 text-sm text-soft">
        {size === 0
          ? 'Nothing is selected. Select notes first.'
          : `${counted(size, 'note')}, to which part? Click or press its number.`}
      </p>
      <ul className="flex flex-col text-sm">
        {open.map((part, index) => (
          <li key={part.id}>
            <Button
              look="quiet"
              className="w-full !justify-start gap-2 !px-1"
              disabled={size === 0}
              onClick={() => send(part.id)}
            >
              <kbd className="w-5 border border-strong bg-shade text-center font-sans font-semibold">
                {index < 9 ? index + 1 : ''}
              </kbd>
              <span className="min-w-0 truncate">{part.name}</span>
            </Button>
          </li>
        ))}
      </ul>
    </SettingsPanel>
  );
};
