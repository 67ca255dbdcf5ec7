/** Play, stop, loop, metronome, and where the playhead is. */

import { barPosition } from '@crispfold/core';
import { Pause, Play, Repeat, SkipBack, Timer } from 'lucide-react';
import { useEffect } from 'react';
import { Button } from '../../ui/Button.js';
import { useValue } from '../../ui/valueStore.js';
import { clock } from '../../ui/words.js';
import { playRequest, togglePlaying } from '../actions/playing.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { selectMeterMap, selectTempoMap } from '../state/maps.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import { switched } from '../state/switched.js';

const Position = () => {
  const { player } = useDesk();
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
  const keyOf = useKeyOf();
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const muted = useAppSelector(({ partsShown }) => partsShown.muted);
  const soloed = useAppSelector(({ partsShown }) => partsShown.soloed);
  const loop = useAppSelector(({ playback }) => playback.loop);
  const loopOn = useAppSelector(({ playback }) => playback.loopOn);
  const metronome = useAppSelector(({ playback }) => playback.metronome);
  const playing = useValue(player.state).playing;
  const recordingState = useAppSelector(({ recording }) => recording.sound);

  // Muting, the loop or the metronome take effect at once; so does an edit.
  // biome-ignore lint/correctness/useExhaustiveDependencies: these are what a change of must be heard
  useEffect(() => {
    const request = dispatch(playRequest());
    if (request) void player.refresh(request);
  }, [muted, soloed, loop, loopOn, metronome, arrangement, recordingState, dispatch]);
  useEffect(
    () => () => {
      player.stop();
      void player.seek(0);
    },
    [player.stop, player.seek],
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
        onClick={() => dispatch(togglePlaying())}
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
        onClick={() => dispatch(switched('loopOn'))}
      >
        <Repeat size={16} aria-hidden />
      </Button>
      <Button
        look="quiet"
        pressed={metronome}
        aria-label="Metronome"
        title="Metronome"
        hint={keyOf('metronome')}
        onClick={() => dispatch(switched('metronome'))}
      >
        <Timer size={16} aria-hidden />
      </Button>
      <Position />
    </div>
  );
};
