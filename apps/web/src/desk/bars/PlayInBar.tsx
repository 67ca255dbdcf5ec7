/** Play in: the line that begins and ends a take, how it counts in and where it lands, and a keyboard to play on. */

import { barPosition, pitchName } from '@crispfold/core';
import { Circle, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Button } from '../../ui/Button.js';
import { useValue } from '../../ui/valueStore.js';
import { counted } from '../../ui/words.js';
import { hearInput, throwAway, turnPlayIn, turnTake } from '../actions/playingIn.js';
import { Check } from '../controls/Check.js';
import { DeviceSwitch } from '../controls/DeviceSwitch.js';
import { isElsewhere } from '../controls/ownKeys.js';
import { Piano } from '../controls/Piano.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { semitonesOfKey } from '../session/inputs.js';
import { enteringActions } from '../state/enteringSlice.js';
import { selectMeterMap } from '../state/maps.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement, selectFrontPart } from '../state/selectors.js';

/** Of the computer's keys, which do not know how hard they are struck. */
const VELOCITY = 84;

/** Letters are keys of a keyboard while a part is played in; Space begins and ends a take. */
const useTakeKeys = (octave: number, setOctave: (octave: number) => void) => {
  const dispatch = useAppDispatch();
  const held = useRef(new Map<string, number>());
  useEffect(() => {
    const act = (event: KeyboardEvent): (() => void) | null => {
      const { key, code, timeStamp } = event;
      if (event.shiftKey) return null;
      if (key === ' ') return () => dispatch(turnTake);
      if (key === 'Escape')
        return () => dispatch((_dispatch, _getState, { taking }) => dispatch(taking.get() ? throwAway : turnPlayIn));
      if (code === 'KeyZ' || code === 'KeyX')
        return () => setOctave(Math.max(-1, Math.min(7, octave + (code === 'KeyZ' ? -1 : 1))));
      const semitones = semitonesOfKey(code);
      if (semitones === undefined) return null;
      return () => {
        const pitch = 12 * (octave + 1) + semitones;
        held.current.set(code, pitch);
        dispatch(hearInput({ kind: 'note', pitch, velocity: VELOCITY, on: true, at: timeStamp }));
      };
    };
    const onDown = (event: KeyboardEvent) => {
      if (isElsewhere(event)) return;
      const action = act(event);
      if (!action) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (!event.repeat) action();
    };
    const onUp = ({ code, timeStamp }: KeyboardEvent) => {
      const pitch = held.current.get(code);
      if (pitch === undefined) return;
      held.current.delete(code);
      dispatch(hearInput({ kind: 'note', pitch, velocity: 0, on: false, at: timeStamp }));
    };
    addEventListener('keydown', onDown, { capture: true });
    addEventListener('keyup', onUp, { capture: true });
    return () => {
      removeEventListener('keydown', onDown, { capture: true });
      removeEventListener('keyup', onUp, { capture: true });
    };
  }, [dispatch, octave, setOctave]);
};

/** "from bar 3 beat 1", "counting in", "4 notes so far". */
const TakePlace = ({ taken }: { taken: number | null }) => {
  const { player } = useDesk();
  const { tick } = useValue(player.state);
  const { ppq } = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const loop = useAppSelector(({ playback }) => (playback.loopOn ? playback.loop : null));
  if (taken !== null) return <>{`${counted(taken, 'note')} so far`}</>;
  const { bar, beat } = barPosition(meterMap, ppq, Math.floor(loop?.start ?? tick));
  return <>{`from bar ${bar} beat ${beat}${loop ? ', the loop over and over' : ''}`}</>;
};

export const PlayInBar = () => {
  const open = useAppSelector(({ entering }) => entering.playIn);
  return open ? <OpenPlayInBar /> : null;
};

const SELECT = 'min-h-7 border border-strong bg-sheet px-1';

const OpenPlayInBar = () => {
  const dispatch = useAppDispatch();
  const part = useAppSelector(selectFrontPart);
  const { countIn, metronome, replaces } = useAppSelector(({ entering }) => entering.playInWishes);
  const taken = useAppSelector(({ entering }) => entering.taken);
  const [octave, setOctave] = useState(4);
  useTakeKeys(octave, setOctave);
  // A take does not outlive its bar.
  useEffect(() => () => dispatch(throwAway), [dispatch]);
  const running = taken !== null;
  return (
    <section aria-label="Play in" className="border-t-2 border-fold bg-shade px-3 py-1.5 text-sm">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <b>Play in</b>
        <span role="group" aria-label="Place of the take" className="min-w-48">
          {part?.name}: <TakePlace taken={taken} />
        </span>
        <Button look="main" hint="Space" onClick={() => dispatch(turnTake)}>
          {running ? <Square size={14} aria-hidden /> : <Circle size={14} fill="currentColor" aria-hidden />}
          {running ? 'End the take' : 'Record'}
        </Button>
        {running && (
          <Button hint="Esc" onClick={() => dispatch(throwAway)}>
            Throw away
          </Button>
        )}
        <label className="flex items-center gap-1.5">
          Count in
          <select
            className={SELECT}
            value={countIn}
            disabled={running}
            onChange={({ target }) => dispatch(enteringActions.playInWished({ countIn: Number(target.value) }))}
          >
            <option value={0}>no bar</option>
            <option value={1}>one bar</option>
            <option value={2}>two bars</option>
          </select>
        </label>
        <label className="flex items-center gap-1.5">
          Lands
          <select
            className={SELECT}
            value={replaces ? 'replaces' : 'over'}
            disabled={running}
            onChange={({ target }) => dispatch(enteringActions.playInWished({ replaces: target.value === 'replaces' }))}
          >
            <option value="over">over what is there</option>
            <option value="replaces">in its place</option>
          </select>
        </label>
        <Check checked={metronome} onChange={() => dispatch(enteringActions.playInWished({ metronome: !metronome }))}>
          Metronome
        </Check>
        <Button className="ml-auto" hint={running ? undefined : 'Esc'} onClick={() => dispatch(turnPlayIn)}>
          Close
        </Button>
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 pt-1.5">
        <Piano
          octave={octave}
          label="Keyboard: held down a key sounds, near its end it is loud"
          onStrike={({ pitch, velocity, at }) => dispatch(hearInput({ kind: 'note', pitch, velocity, on: true, at }))}
          onLetGo={(pitch, at) => dispatch(hearInput({ kind: 'note', pitch, velocity: 0, on: false, at }))}
        />
        <div className="flex flex-col gap-0.5">
          <span className="text-soft">
            Keys A to ; are a keyboard from {pitchName(12 * (octave + 1))}; Z and X change the octave. What is played
            just before the beginning is kept.
          </span>
          <span className="flex flex-wrap gap-x-4">
            <DeviceSwitch onHeard={(heard) => dispatch(hearInput(heard))} />
          </span>
        </div>
      </div>
    </section>
  );
};
