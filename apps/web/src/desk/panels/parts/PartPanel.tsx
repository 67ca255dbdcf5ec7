/** The front part itself: name, instrument, channel and what it starts with, in one place; and what is done to it whole. */

import {
  changePart,
  INSTRUMENTS,
  instrumentById,
  instrumentForProgram,
  LONGEST_PART_NAME,
  type Part,
  type PartStart,
  partStart,
  sharingChannel,
} from '@crispfold/core';
import { useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { NumberField } from '../../../ui/NumberField.js';
import { type CommandContext, carryOut } from '../../actions/commands/command.js';
import { COMMANDS_OF_PART } from '../../actions/commands/partCommands.js';
import { GUESSED } from '../../controls/guessed.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useKeyOf } from '../../controls/useKeyOf.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectFrontPart } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';

const BOX = 'min-h-7 min-w-0 border border-strong bg-sheet px-1';

export const PartPanel = ({ context }: { context: CommandContext }) => {
  const front = useAppSelector(selectFrontPart);
  const dispatch = useAppDispatch();
  const close = () => dispatch(layoutActions.toolShown(null));
  return (
    <SettingsPanel
      title="The part"
      explanation="The front part: what it is called, written for and starts with. Its notes stay as they are."
      onClose={close}
    >
      {front && <Settings key={front.id} part={front} context={context} />}
    </SettingsPanel>
  );
};

const STARTS: readonly (readonly [key: keyof PartStart, label: string, help: string])[] = [
  ['volume', 'Volume', 'controller 7, 0 to 127'],
  ['pan', 'Pan', 'controller 10: 0 left, 64 middle, 127 right'],
  ['expression', 'Expression', 'controller 11, 0 to 127'],
];
/** What a receiver takes where nothing is said: volume 100, pan 64, expression 127 (General MIDI 1). */
const UNSAID = { volume: 100, pan: 64, expression: 127, program: 0 } as const;

const Settings = ({ part, context }: { part: Part; context: CommandContext }) => {
  const keyOf = useKeyOf();
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const now = partStart(part);
  const [name, setName] = useState(part.name);
  const [instrument, setInstrument] = useState(part.instrument);
  const [channel, setChannel] = useState(part.channel);
  const [start, setStart] = useState<Partial<PartStart>>({});
  const all = { ...now, ...start };
  const edit = changePart(arrangement, part.id, { name, instrument, channel, start });
  const others = sharingChannel(arrangement, part.id, channel);
  const choose = (id: string) => {
    setInstrument(id);
    const [own] = instrumentById(id).programs;
    if (own !== undefined && !instrumentById(id).programs.includes(all.program ?? -1)) {
      setStart({ ...start, program: own });
    }
    const heard = part.notes[0];
    void player.sound({ ...part, instrument: id }, heard?.pitch ?? 60, heard?.velocity ?? 80);
  };
  const why =
    instrument !== part.instrument
      ? 'chosen by you'
      : part.instrumentFrom
        ? GUESSED[part.instrumentFrom]
        : 'chosen by you';
  return (
    <>
      <form
        className="flex flex-col gap-3 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          if (!edit) return;
          dispatch(commit(edit));
          dispatch(said(edit.label));
          dispatch(layoutActions.toolShown(null));
        }}
      >
        <label className="grid grid-cols-[5.5rem_1fr] items-center gap-2">
          Name
          <input
            className={`${BOX} px-1.5`}
            maxLength={LONGEST_PART_NAME}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label className="grid grid-cols-[5.5rem_1fr] items-center gap-2">
          Instrument
          <select className={BOX} value={instrument} onChange={(event) => choose(event.target.value)}>
            {INSTRUMENTS.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
        <p className="-mt-2 pl-24 text-soft">
          {why}
          {part.trackName ? `; the file calls it “${part.trackName}”` : ''}
        </p>
        <div className="grid grid-cols-[5.5rem_1fr] items-center gap-2">
          Channel
          <NumberField
            label="Channel"
            min={1}
            max={16}
            className="w-20"
            value={channel + 1}
            onTaken={(value) => setChannel(Math.round(value) - 1)}
          />
        </div>
        {others.length > 0 && (
          <p role="status" className="-mt-2 pl-24 text-soft">
            shared with {others.slice(0, 3).join(', ')}
            {others.length > 3 ? ` and ${others.length - 3} more` : ''}: program and controllers are one
          </p>
        )}
        <h3 className="border-b border-strong font-serif text-base">Starts with</h3>
        <div className="grid grid-cols-[5.5rem_1fr] items-center gap-2" title="General MIDI program, 1 to 128">
          Program
          <span className="flex items-center gap-2">
            <NumberField
              label="Program"
              min={1}
              max={128}
              className="w-20"
              value={(all.program ?? UNSAID.program) + 1}
              onTaken={(value) => setStart({ ...start, program: Math.round(value) - 1 })}
            />
            <span className="truncate text-soft">
              {all.program === null ? 'not said' : instrumentForProgram(all.program).name}
            </span>
          </span>
        </div>
        {STARTS.map(([key, label, help]) => (
          <div key={key} className="grid grid-cols-[5.5rem_1fr] items-center gap-2" title={help}>
            {label}
            <span className="flex items-center gap-2">
              <NumberField
                label={label}
                min={0}
                max={127}
                className="w-20"
                value={all[key] ?? UNSAID[key]}
                onTaken={(value) => setStart({ ...start, [key]: Math.round(value) })}
              />
              {all[key] === null ? (
                <span className="text-soft">not said</span>
              ) : (
                <Button
                  look="quiet"
                  className="!px-1"
                  title={`Say no ${label.toLowerCase()} at the start`}
                  onClick={() => setStart({ ...start, [key]: null })}
                >
                  Leave unsaid
                </Button>
              )}
            </span>
          </div>
        ))}
        <Button look="main" type="submit" disabled={!edit} className="self-start">
          Change the part
        </Button>
      </form>
      <h3 className="mt-4 border-b border-strong font-serif text-base">The whole part</h3>
      <div className="flex flex-col items-start pt-1">
        {COMMANDS_OF_PART.map((command) => (
          <Button
            key={command.id}
            look="quiet"
            className="w-full !justify-between !px-1"
            hint={keyOf(command.id)}
            onClick={() => carryOut(command, context)}
          >
            {command.name}
          </Button>
        ))}
      </div>
    </>
  );
};
