/** Attacks found in the recording; the recording moved to the notes, or notes to the attacks. */

import { changeRecording, moveToAttacks, offsetToNotes, selectionSize, startsToCompare } from '@crispfold/core';
import { type FormEvent, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { NumberField } from '../../../ui/NumberField.js';
import { counted } from '../../../ui/words.js';
import { carryOutEdit } from '../../actions/carryOutEdit.js';
import { DoOrHear, useTried } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { lookForAttacks } from '../../session/sound/recordingSound.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectEditable } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';

/** What it begins with. */
const FIRST = { sensitivity: 0.5, within: 60, percent: 100 };
type Settings = typeof FIRST;

export const Attacks = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const attacks = useAppSelector(({ recording }) => recording.attacks);
  const [options, change] = useLastSettings('recording', FIRST);
  const [looking, setLooking] = useState(false);
  const look = async (sensitivity: number) => {
    change({ sensitivity });
    setLooking(true);
    const found = await dispatch(lookForAttacks(sensitivity)).finally(() => setLooking(false));
    dispatch(said(`${counted(found.length, 'attack')} found in the recording.`));
    return found;
  };
  const times = useMemo(() => attacks?.map(({ time }) => time) ?? [], [attacks]);
  const moveRecording = async () => {
    const found = attacks ?? (await look(options.sensitivity));
    const to = offsetToNotes(
      startsToCompare(arrangement, selection),
      found.map(({ time }) => time),
    );
    if (!to) {
      toast.error('No attack was found in the recording. Look for fainter ones, or move it by hand.');
      return;
    }
    const edit = changeRecording(arrangement, 'Move the recording to the notes', {
      offset: Math.round(to.offset * 1e6) / 1e6,
    });
    const words = `${to.met} of ${counted(to.of, 'start')} now have an attack within 40 ms.`;
    dispatch(commit(edit));
    if (edit) toast.success(words);
    else toast.message('It lies where the notes are already.');
    dispatch(said(words));
  };
  const some = selectionSize(selection) > 0;
  return (
    <section aria-label="Attacks" className="flex flex-col gap-3 border-t border-rule pt-3">
      <div className="flex flex-wrap items-center gap-2">
        <Button onClick={() => void look(options.sensitivity)} disabled={looking}>
          {looking ? 'Listening…' : attacks ? `Attacks · ${attacks.length}` : 'Find attacks'}
        </Button>
        <label className="flex items-center gap-1.5">
          plain
          <input
            type="range"
            aria-label="How faint attacks may be"
            min={0}
            max={10}
            className="w-16 accent-[var(--fold)]"
            value={Math.round(options.sensitivity * 10)}
            onChange={({ target }) => void look(Number(target.value) / 10)}
          />
          faint
        </label>
      </div>
      <Button
        className="self-start"
        title={some ? 'By the selected notes' : 'By all notes'}
        onClick={() => void moveRecording()}
        disabled={looking}
      >
        Move the recording to the notes
      </Button>
      {attacks && <MoveNotes times={times} options={options} onSet={change} />}
    </section>
  );
};

/** Selected notes go to the attacks nearest to them. */
const MoveNotes = ({
  times,
  options,
  onSet,
}: {
  /** Seconds of the recording. */
  times: readonly number[];
  options: Settings;
  onSet: (set: Partial<Settings>) => void;
}) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const { within, percent } = options;
  const ways = useMemo(() => ({ within, share: percent / 100 }), [within, percent]);
  const made = useMemo(() => moveToAttacks(arrangement, selection, times, ways), [arrangement, selection, times, ways]);
  useTried(made.edit);
  const move = (event: FormEvent) => {
    event.preventDefault();
    if (!made.edit) return;
    dispatch(
      carryOutEdit(
        made.edit,
        (now, chosen) => moveToAttacks(now, chosen, times, ways).edit,
        'No selected note has an attack near it.',
      ),
    );
  };
  return (
    <form className="flex flex-col gap-2" onSubmit={move}>
      <p>Selected notes go to the attack nearest to them; their lengths stay.</p>
      <p className="flex items-center gap-1.5">
        Within
        <NumberField
          label="Within, in milliseconds"
          className="w-14"
          min={1}
          max={500}
          value={within}
          onTaken={(value) => onSet({ within: value })}
        />
        ms,
        <NumberField
          label="How much of the way, in percent"
          className="w-14"
          min={1}
          max={100}
          value={percent}
          onTaken={(value) => onSet({ percent: value })}
        />
        % of the way
      </p>
      <p role="status" className="text-soft">
        {selectionSize(selection) === 0
          ? 'Nothing is selected.'
          : `${counted(made.moved, 'note')} move, ${Math.round(made.furthest)} ms at most; ${made.left} have no attack near.`}
      </p>
      <DoOrHear disabled={!made.edit}>Move notes · {made.moved}</DoOrHear>
    </form>
  );
};
