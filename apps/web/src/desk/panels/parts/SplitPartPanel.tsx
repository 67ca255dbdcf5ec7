/** Split the front part: by pitch, by percussion sound, by channel, by voice; what parts there will be is shown before. */

import { pitchName, type SplitBy, sharesOf, splitPart } from '@crispfold/core';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { NumberField } from '../../../ui/NumberField.js';
import { counted } from '../../../ui/words.js';
import { tellDone } from '../../actions/carryOutEdit.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectFirstSelected, selectFrontPart } from '../../state/selectors.js';

const WAYS: readonly (readonly [by: SplitBy['by'], words: string])[] = [
  ['pitch', 'at a pitch'],
  ['sound', 'each pitch or percussion sound'],
  ['channel', 'each channel'],
  ['voice', 'each voice, as it is read'],
];
/** More parts than this are counted, not listed. */
const MOST_LISTED = 12;

export const SplitPartPanel = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const front = useAppSelector(selectFrontPart);
  const chosen = useAppSelector(selectFirstSelected);
  const [by, setBy] = useState<SplitBy['by']>('pitch');
  const [pitch, setPitch] = useState(chosen?.note.pitch ?? 60);
  const how: SplitBy = by === 'pitch' ? { by, pitch } : { by };
  // biome-ignore lint/correctness/useExhaustiveDependencies: the way is made of these
  const shares = useMemo(() => (front ? sharesOf(arrangement, front, how) : []), [arrangement, front, by, pitch]);
  const close = () => dispatch(layoutActions.toolShown(null));
  const apply = () => {
    if (!front) return;
    const made = splitPart(arrangement, front.id, how);
    if (!made.ok) {
      toast.error(made.problem.message);
      return;
    }
    dispatch(commit(made.value.edit));
    dispatch(tellDone(made.value.edit.label));
    close();
  };
  return (
    <SettingsPanel
      title="Split the part"
      explanation="Makes several parts of the front part. No note is changed; its plan and its pedals go with each."
      onClose={close}
    >
      <form
        className="flex flex-col gap-3 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          apply();
        }}
      >
        <label className="flex flex-col gap-1">
          Split {front?.name ?? 'the part'}
          <select
            className="min-h-7 border border-strong bg-sheet px-1"
            value={by}
            onChange={(event) => setBy(event.target.value as SplitBy['by'])}
          >
            {WAYS.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
        {by === 'pitch' && (
          <div className="flex items-center gap-2">
            Lowest of the upper part
            <NumberField
              label="Lowest pitch of the upper part"
              min={1}
              max={127}
              className="w-16"
              value={pitch}
              onTaken={(value) => setPitch(Math.round(value))}
            />
            <b>{pitchName(pitch)}</b>
          </div>
        )}
        <div role="status">
          <p className="text-soft">
            {shares.length < 2 ? 'It is all of one kind: there is nothing to split.' : `${shares.length} parts:`}
          </p>
          {shares.length > 1 && (
            <ul className="pt-1">
              {shares.slice(0, MOST_LISTED).map((share) => (
                <li key={share.name} className="flex justify-between gap-2 border-b border-rule py-0.5">
                  <span className="min-w-0 truncate">{share.name}</span>
                  <span className="whitespace-nowrap tabular-nums text-soft">
                    {counted(share.notes.length, 'note')}
                  </span>
                </li>
              ))}
              {shares.length > MOST_LISTED && <li className="text-soft">and {shares.length - MOST_LISTED} more</li>}
            </ul>
          )}
        </div>
        <Button look="main" type="submit" disabled={shares.length < 2} className="self-start">
          Split into {shares.length}
        </Button>
      </form>
    </SettingsPanel>
  );
};
