/** Note by note: the line that says where the next note goes and with what value, its keys, and a keyboard to click. */

import { barPosition, entryLength, lengthInWords, pitchName, TUPLETS } from '@crispfold/core';
import { useEffect, useRef, useState } from 'react';
import { Button } from '../../ui/Button.js';
import {
  back,
  chooseValue,
  enter,
  enterLetter,
  remove,
  rest,
  shift,
  tie,
  turnEntry,
  walkEntry,
} from '../actions/entering.js';
import { Check } from '../controls/Check.js';
import { DeviceSwitch } from '../controls/DeviceSwitch.js';
import { isElsewhere } from '../controls/ownKeys.js';
import { Piano } from '../controls/Piano.js';
import { useAppDispatch } from '../session/desk.js';
import { type Heard, semitonesOfKey } from '../session/inputs.js';
import { GRID_VALUES } from '../state/editingSlice.js';
import { enteringActions } from '../state/enteringSlice.js';
import { selectMeterMap } from '../state/maps.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';

const NAMES = ['whole', 'half', 'quarter', 'eighth', '16th', '32nd', '64th'];

/** What a key does while notes are entered; null leaves it to the commands. */
const useEntryKeys = (asKeyboard: boolean, octave: number, setOctave: (octave: number) => void) => {
  const dispatch = useAppDispatch();
  const on = useAppSelector(({ entering }) => entering.entry !== null);
  const value = useAppSelector(({ entering }) => entering.entry?.value);
  const held = useRef(new Set<string>());
  useEffect(() => {
    if (!on || !value) return undefined;
    const act = (event: KeyboardEvent): (() => void) | null => {
      const { key, code, shiftKey } = event;
      if (/^Digit[1-7]$/.test(code) && !shiftKey) {
        const fraction = GRID_VALUES[Number(code.slice(5)) - 1];
        return fraction === undefined ? null : () => dispatch(chooseValue({ fraction }));
      }
      switch (key) {
        case '0':
          return () => dispatch(rest);
        case '.':
          return () => dispatch(chooseValue({ dotted: !value.dotted }));
        case '/':
          return () => dispatch(chooseValue({ tuplet: value.tuplet === null ? 3 : null }));
        case '-':
          return () => dispatch(tie);
        case 'Backspace':
          return () => dispatch(back);
        case 'Delete':
          return () => dispatch(remove);
        case 'ArrowUp':
          return () => dispatch(shift(shiftKey ? 12 : 1));
        case 'ArrowDown':
          return () => dispatch(shift(shiftKey ? -12 : -1));
        case 'ArrowLeft':
          return () => dispatch(walkEntry(-1));
        case 'ArrowRight':
          return () => dispatch(walkEntry(1));
        case 'Escape':
          return () => dispatch(turnEntry);
        default:
      }
      if (asKeyboard) {
        if (code === 'KeyZ' || code === 'KeyX') return () => setOctave(octave + (code === 'KeyZ' ? -1 : 1));
        const semitones = semitonesOfKey(code);
        if (semitones === undefined || event.repeat) return null;
        // Keys that are down together are one chord.
        const chord = held.current.size > 0;
        held.current.add(code);
        return () => dispatch(enter([{ pitch: 12 * (octave + 1) + semitones }], chord));
      }
      return /^[a-g]$/i.test(key) && !event.repeat ? () => dispatch(enterLetter(key, shiftKey)) : null;
    };
    const onDown = (event: KeyboardEvent) => {
      if (isElsewhere(event)) return;
      const action = act(event);
      if (!action) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      action();
    };
    const onUp = ({ code }: KeyboardEvent) => held.current.delete(code);
    addEventListener('keydown', onDown, { capture: true });
    addEventListener('keyup', onUp, { capture: true });
    return () => {
      removeEventListener('keydown', onDown, { capture: true });
      removeEventListener('keyup', onUp, { capture: true });
    };
  }, [dispatch, on, value, asKeyboard, octave, setOctave]);
};

/** Keys of devices that are down together are one chord. */
const useDeviceEntry = (): ((heard: Heard) => void) => {
  const dispatch = useAppDispatch();
  const held = useRef(new Set<number>());
  return (heard) => {
    if (heard.kind !== 'note') return;
    const { pitch, velocity, on } = heard;
    if (on) {
      dispatch(enter([{ pitch, velocity }], held.current.size > 0));
      held.current.add(pitch);
    } else held.current.delete(pitch);
  };
};

export const EntryBar = () => {
  const entry = useAppSelector(({ entering }) => entering.entry);
  return entry ? <OpenEntryBar /> : null;
};

const OpenEntryBar = () => {
  const dispatch = useAppDispatch();
  const entry = useAppSelector(({ entering }) => entering.entry);
  const arrangement = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const [asKeyboard, setAsKeyboard] = useState(false);
  const [octave, setOctave] = useState(4);
  useEntryKeys(asKeyboard, octave, (next) => setOctave(Math.max(-1, Math.min(7, next))));
  const onHeard = useDeviceEntry();
  if (!entry) return null;
  const { value } = entry;
  const { bar, beat, tick } = barPosition(meterMap, arrangement.ppq, entry.at);
  const part = arrangement.parts.find(({ id }) => id === entry.partId);
  return (
    <section aria-label="Note by note" className="border-t-2 border-fold bg-shade px-3 py-1.5 text-sm">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <b>Note by note</b>
        <span role="group" aria-label="Place of entry">
          {part?.name}: bar {bar} beat {beat}
          {tick > 0 ? `, ${tick} ticks` : ''}, {lengthInWords(entryLength(value, arrangement.ppq), arrangement.ppq)}
        </span>
        <span className="flex" role="group" aria-label="Value">
          {GRID_VALUES.map((fraction, index) => (
            <Button
              key={fraction}
              className="!px-1.5"
              pressed={value.fraction === fraction}
              hint={String(index + 1)}
              title={NAMES[index]}
              onClick={() => dispatch(chooseValue({ fraction }))}
            >
              {NAMES[index]}
            </Button>
          ))}
        </span>
        <Button
          className="!px-1.5"
          pressed={value.dotted}
          hint="."
          onClick={() => dispatch(chooseValue({ dotted: !value.dotted }))}
        >
          dotted
        </Button>
        <select
          aria-label="Tuplet"
          title="A tuplet (/ for a triplet)"
          className="min-h-7 border border-strong bg-sheet px-1"
          value={value.tuplet ?? ''}
          onChange={({ target }) =>
            dispatch(chooseValue({ tuplet: target.value === '' ? null : Number(target.value) }))
          }
        >
          <option value="">no tuplet</option>
          {[3, 5, 6, 7, 9, TUPLETS.to].map((size) => (
            <option key={size} value={size}>
              {size === 3 ? 'triplet' : `${size} in one`}
            </option>
          ))}
        </select>
        <Button hint="0" onClick={() => dispatch(rest)}>
          Rest
        </Button>
        <Button hint="-" onClick={() => dispatch(tie)}>
          Tie
        </Button>
        <Button hint="Backspace" onClick={() => dispatch(back)}>
          Back
        </Button>
        <Button hint="Del" title="Takes away what stands at this place" onClick={() => dispatch(remove)}>
          Delete there
        </Button>
        <Button className="ml-auto" hint="Esc" onClick={() => dispatch(turnEntry)}>
          No longer
        </Button>
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 pt-1.5">
        <Piano
          octave={octave}
          label="Keyboard: a click enters a note, with Shift it joins the chord"
          onStrike={({ pitch, shift }) => dispatch(enter([{ pitch }], shift))}
        />
        <div className="flex flex-col gap-0.5">
          <span className="text-soft">
            {asKeyboard
              ? `Keys A to ; are a keyboard from ${pitchName(12 * (octave + 1))}; Z and X change the octave. Keys held together are a chord.`
              : 'A to G enter notes, with Shift they join the chord. ↑ ↓ move the last one, ← → the place.'}
          </span>
          <span className="flex flex-wrap gap-x-4">
            <Check checked={asKeyboard} onChange={() => setAsKeyboard(!asKeyboard)}>
              Computer keys as a keyboard
            </Check>
            <Check
              checked={entry.inserts}
              onChange={() => dispatch(enteringActions.entrySet({ ...entry, inserts: !entry.inserts }))}
            >
              What comes later makes room
            </Check>
            <Check
              checked={entry.pageOnly}
              onChange={() => dispatch(enteringActions.entrySet({ ...entry, pageOnly: !entry.pageOnly, last: null }))}
            >
              Written, not heard
            </Check>
            <DeviceSwitch onHeard={onHeard} />
          </span>
        </div>
      </div>
    </section>
  );
};
