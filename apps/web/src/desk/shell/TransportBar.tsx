/** Play, stop, loop, metronome, and where the playhead is. */

import { barPosition } from '@crispfold/core';
import { Pause, Play, Repeat, SkipBack, Timer } from 'lucide-react';
import { useEffect } from 'react';
import { useStore } from 'react-redux';
import { Button } from '../../ui/Button.js';
import { useValue } from '../../ui/valueStore.js';
import { clock } from '../../ui/words.js';
import { keyOf } from '../actions/commands/ownKeys.js';
import { offerWritten, playRequest, togglePlaying } from '../actions/playing.js';
import { useAppDispatch } from '../session/dispatching.js';
import { player } from '../session/sound/player.js';
import { recordingSound } from '../session/sound/recordingSound.js';
import { useLayers } from '../session/useWritten.js';
import { deskActions } from '../state/deskSlice.js';
import { selectMeterMap, selectTempoMap } from '../state/maps.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';

const Position = () => {
  const { tick } = useValue(player.state);
  const arrangement = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const tempoMap = useAppSelector(selectTempoMap);
  const { bar, beat } = barPosition(meterMap, arrangement.ppq, Math.floor(tick));
  return (
    <output className="w-36 whitespace-nowrap text-sm tabular-nums" aria-label="Playhead">
      bar {bar}, beat {beat} <span className="text-soft">· {clock(tempoMap.secondsAt(tick))}</span>
    </output>
  );
};

export const TransportBar = () => {
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const arrangement = useAppSelector(selectArrangement);
  const muted = useAppSelector(({ desk }) => desk.muted);
  const soloed = useAppSelector(({ desk }) => desk.soloed);
  const loop = useAppSelector(({ desk }) => desk.loop);
  const loopOn = useAppSelector(({ desk }) => desk.loopOn);
  const metronome = useAppSelector(({ desk }) => desk.metronome);
  const layers = useLayers();
  const playing = useValue(player.state).playing;
  const recordingState = useValue(recordingSound);

  useEffect(() => offerWritten(layers), [layers]);
  // Muting, the loop or the metronome take effect at once; so does an edit.
  // biome-ignore lint/correctness/useExhaustiveDependencies: these are what a change of must be heard
  useEffect(() => {
    const request = playRequest(store.getState());
    if (request) void player.refresh(request);
  }, [muted, soloed, loop, loopOn, metronome, arrangement, recordingState, store]);
  useEffect(
    () => () => {
      player.stop();
      void player.seek(0);
    },
    [],
  );

  return (
    <div className="flex items-center gap-1" role="group" aria-label="Playing">
      <Button
        look="quiet"
        aria-label="Back to the start"
        title="Back to the start"
        hint="Home"
        onClick={() => void player.seek(0)}
      >
        <SkipBack size={16} aria-hidden />
      </Button>
      <Button
        aria-label={playing ? 'Stop' : 'Play'}
        title={playing ? 'Stop' : 'Play'}
        hint="Space"
        onClick={() => togglePlaying(store.getState())}
      >
        {playing ? <Pause size={16} aria-hidden /> : <Play size={16} aria-hidden />}
        <span className="w-9 text-left">{playing ? 'Stop' : 'Play'}</span>
      </Button>
      <Button
        look="quiet"
        pressed={loopOn}
        aria-label="Loop"
        title={loop ? 'Repeat the range marked in the ruler' : 'Drag in the ruler to mark the range to repeat'}
        hint={keyOf('loop')}
        disabled={!loop}
        onClick={() => dispatch(deskActions.switched('loopOn'))}
      >
        <Repeat size={16} aria-hidden />
      </Button>
      <Button
        look="quiet"
        pressed={metronome}
        aria-label="Metronome"
        title="Metronome"
        hint={keyOf('metronome')}
        onClick={() => dispatch(deskActions.switched('metronome'))}
      >
        <Timer size={16} aria-hidden />
      </Button>
      <Position />
    </div>
  );
};
