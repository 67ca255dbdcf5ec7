/** The recording beside the notes: where it lies, how loud it is, its attacks, and what is lined up with what. */

import { changeRecording, withRecording } from '@crispfold/core';
import { useEffect } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { ChooseFile } from '../../../ui/ChooseFile.js';
import { NumberField } from '../../../ui/NumberField.js';
import { Typed } from '../../../ui/Typed.js';
import { clock } from '../../../ui/words.js';
import { addRecording } from '../../actions/addRecording.js';
import { Check } from '../../controls/Check.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { needSound } from '../../session/sound/recordingSound.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { lookingActions } from '../../state/lookingSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';
import { Attacks } from './Attacks.js';
import { offsetTyped } from './recordingModel.js';

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
            <b>{recording.name}</b>, {clock(Math.round(recording.seconds))}
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
            checked={!recording.muted}
            onChange={() =>
              change(recording.muted ? 'Hear the recording' : 'Silence the recording', { muted: !recording.muted })
            }
          >
            heard along
          </Check>
          <Check
            checked={seeing.recording}
            onChange={() => dispatch(lookingActions.seen({ recording: !seeing.recording }))}
          >
            under the ruler
          </Check>
          <Check
            checked={seeing.recordingBehind}
            onChange={() => dispatch(lookingActions.seen({ recordingBehind: !seeing.recordingBehind }))}
          >
            behind the notes
          </Check>
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
