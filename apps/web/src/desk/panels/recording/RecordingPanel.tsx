/** The recording beside the notes: where it lies, how loud it is, its attacks, and what is lined up with what. */

import {
  changeRecording,
  moveToAttacks,
  offsetToNotes,
  selectionSize,
  startsToCompare,
  withRecording,
} from '@crispfold/core';
import { useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { ChooseFile } from '../../../ui/ChooseFile.js';
import { NumberField } from '../../../ui/NumberField.js';
import { Typed } from '../../../ui/Typed.js';
import { counted } from '../../../ui/words.js';
import { addRecording } from '../../actions/addRecording.js';
import { carryOutEdit } from '../../actions/carryOutEdit.js';
import { HearBoth, SettingsPanel, useTried } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { lookForAttacks, needSound } from '../../session/sound/recordingSound.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { lookingActions } from '../../state/lookingSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectEditable } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';

/** What it begins with. */
const FIRST = { sensitivity: 0.5, within: 60, percent: 100 };

const CHECK = 'accent-[var(--fold)]';

/** Something that is so or not. */
const Check = ({ words, checked, onTurned }: { words: string; checked: boolean; onTurned: () => void }) => (
  <label className="flex items-center gap-2">
    <input type="checkbox" className={CHECK} checked={checked} onChange={onTurned} />
    {words}
  </label>
);

export const RecordingPanel = () => {
  const dispatch = useAppDispatch();
  const arrangementId = useAppSelector(({ piece }) => piece.id);
  const arrangement = useAppSelector(selectArrangement);
  const { recording } = arrangement;
  const seeing = useAppSelector(({ looking }) => looking.seeing);
  const state = useAppSelector(({ recording }) => recording.sound);
  useEffect(() => {
    if (arrangementId && recording) dispatch(needSound(arrangementId, recording));
  }, [arrangementId, recording, dispatch]);
  const change = (label: string, next: Parameters<typeof changeRecording>[2]) =>
    dispatch(commit(changeRecording(arrangement, label, next)));
  const choose = (
    <ChooseFile
      label="A recording"
      accept=".wav,.flac,.mp3,.ogg,.oga"
      main={!recording}
      words={recording ? 'Another…' : 'Choose a recording…'}
      onChosen={(file) => void dispatch(addRecording(file))}
    />
  );
  return (
    <SettingsPanel
      title="Recording"
      explanation="A wav, flac, mp3 or ogg file beside the notes: to see, to hear along, to line up with."
      onClose={() => dispatch(layoutActions.toolShown(null))}
    >
      {!recording ? (
        <div className="flex flex-col items-start gap-3 text-sm">
          <p>There is none yet. Drop one on the Desk, or choose it here.</p>
          {choose}
        </div>
      ) : (
        <div className="flex flex-col gap-3 text-sm">
          <p className="[overflow-wrap:anywhere]">
            <b>{recording.name}</b>, {minutes(recording.seconds)}
          </p>
          {state.kind === 'failed' && state.id === recording.id && <p role="alert">{state.message}</p>}
          <div className="flex items-center gap-2">
            <label htmlFor="recording-offset">Begins at</label>
            <Typed
              id="recording-offset"
              label="Where the recording begins, in seconds from bar 1"
              title="Seconds from bar 1; below 0 before it. +0.01 moves it later, +-0.01 earlier"
              className="w-24 tabular-nums"
              value={recording.offset.toFixed(3)}
              onTaken={(text) => {
                const offset = offsetTyped(text, recording.offset);
                if (offset === null)
                  toast.error('Where it begins is a number of seconds, or + and a number to move it by.');
                else change('Move the recording', { offset });
              }}
            />
            s
          </div>
          <p className="flex items-center gap-2">
            Loudness
            <NumberField
              label="Loudness of the recording, in percent"
              className="w-14"
              min={0}
              max={100}
              step={5}
              value={Math.round(recording.level * 100)}
              onTaken={(percent) => change('Loudness of the recording', { level: percent / 100 })}
            />
            %
          </p>
          <Check
            words="heard along"
            checked={!recording.muted}
            onTurned={() =>
              change(recording.muted ? 'Hear the recording' : 'Silence the recording', { muted: !recording.muted })
            }
          />
          <Check
            words="under the ruler"
            checked={seeing.recording}
            onTurned={() => dispatch(lookingActions.seen({ recording: !seeing.recording }))}
          />
          <Check
            words="behind the notes"
            checked={seeing.recordingBehind}
            onTurned={() => dispatch(lookingActions.seen({ recordingBehind: !seeing.recordingBehind }))}
          />
          {state.kind === 'ready' && state.id === recording.id && <Attacks />}
          <div className="flex flex-wrap gap-2 border-t border-rule pt-3">
            {choose}
            <Button
              look="quiet"
              title="Takes it away from beside the notes; undo brings it back"
              onClick={() => dispatch(commit(withRecording(arrangement, 'Put the recording aside', null)))}
            >
              Put aside
            </Button>
          </div>
        </div>
      )}
    </SettingsPanel>
  );
};

/** Attacks found; the recording moved to the notes, or notes to the attacks. */
const Attacks = () => {
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
  const ways = { within: options.within, share: options.percent / 100 };
  const made = useMemo(
    () => moveToAttacks(arrangement, selection, times, { within: options.within, share: options.percent / 100 }),
    [arrangement, selection, times, options.within, options.percent],
  );
  useTried(made.edit);
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
            className={`w-16 ${CHECK}`}
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
      {attacks && (
        <form
          className="flex flex-col gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (!made.edit) return;
            dispatch(
              carryOutEdit(
                made.edit,
                (now, chosen) => moveToAttacks(now, chosen, times, ways).edit,
                'No selected note has an attack near it.',
              ),
            );
          }}
        >
          <p>Selected notes go to the attack nearest to them; their lengths stay.</p>
          <p className="flex items-center gap-1.5">
            Within
            <NumberField
              label="Within, in milliseconds"
              className="w-14"
              min={1}
              max={500}
              value={options.within}
              onTaken={(within) => change({ within })}
            />
            ms,
            <NumberField
              label="How much of the way, in percent"
              className="w-14"
              min={1}
              max={100}
              value={options.percent}
              onTaken={(percent) => change({ percent })}
            />
            % of the way
          </p>
          <p role="status" className="text-soft">
            {!some
              ? 'Nothing is selected.'
              : `${counted(made.moved, 'note')} move, ${Math.round(made.furthest)} ms at most; ${made.left} have no attack near.`}
          </p>
          <div className="flex flex-wrap gap-2">
            <Button look="main" type="submit" disabled={!made.edit}>
              Move notes · {made.moved}
            </Button>
            <HearBoth />
          </div>
        </form>
      )}
    </section>
  );
};

const minutes = (seconds: number): string =>
  `${Math.floor(Math.round(seconds) / 60)}:${String(Math.round(seconds) % 60).padStart(2, '0')}`;

/** A number of seconds, which may be below 0; after a + it is what is added. Null where it is neither. */
const offsetTyped = (text: string, now: number): number | null => {
  const [, plus, amount] = /^\s*(\+?)\s*([-−]?\d+(?:[.,]\d+)?)\s*s?\s*$/.exec(text) ?? [];
  if (amount === undefined) return null;
  const seconds = Number(amount.replace('−', '-').replace(',', '.'));
  return plus ? now + seconds : seconds;
};
