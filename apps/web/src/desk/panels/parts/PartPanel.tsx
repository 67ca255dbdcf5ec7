/** The front part itself: name, instrument, channel and what it starts with, in one place; and what is done to it whole. */

import {
  changePart,
  instrumentForProgram,
  LONGEST_PART_NAME,
  type Part,
  type PartStart,
  sharingChannel,
} from '@crispfold/core';
import { type FormEvent, useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { NumberField } from '../../../ui/NumberField.js';
import { type CommandContext, carryOut } from '../../actions/commands/command.js';
import { COMMANDS_OF_PART } from '../../actions/commands/partCommands.js';
import { InstrumentOptions } from '../../controls/InstrumentOptions.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useKeyOf } from '../../controls/useKeyOf.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectFrontPart } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { draftOf, type PartDraft, sharedWith, startOf, whyInstrument, withInstrument } from './partModel.js';

const BOX = 'min-h-7 min-w-0 border border-strong bg-sheet px-1';
/** A name and what is set beside it. */
const ROW = 'grid grid-cols-[5.5rem_1fr] items-center gap-2';

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
      {front && <Settings key={front.id} part={front} />}
      {front && <WholePart context={context} />}
    </SettingsPanel>
  );
};

const Settings = ({ part }: { part: Part }) => {
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const [draft, setDraft] = useState(draftOf(part));
  const set = (more: Partial<PartDraft>) => setDraft((now) => ({ ...now, ...more }));
  const edit = changePart(arrangement, part.id, draft);
  const shared = sharedWith(sharingChannel(arrangement, part.id, draft.channel));
  const choose = (instrument: string) => {
    setDraft((now) => withInstrument(now, part, instrument));
    const heard = part.notes[0];
    void player.sound({ ...part, instrument }, heard?.pitch ?? 60, heard?.velocity ?? 80);
  };
  const take = (event: FormEvent) => {
    event.preventDefault();
    if (!edit) return;
    dispatch(commit(edit));
    dispatch(said(edit.label));
    dispatch(layoutActions.toolShown(null));
  };
  return (
    <form className="flex flex-col gap-3 text-sm" onSubmit={take}>
      <label className={ROW}>
        Name
        <input
          className={`${BOX} px-1.5`}
          maxLength={LONGEST_PART_NAME}
          value={draft.name}
          onChange={(event) => set({ name: event.target.value })}
        />
      </label>
      <label className={ROW}>
        Instrument
        <select className={BOX} value={draft.instrument} onChange={(event) => choose(event.target.value)}>
          <InstrumentOptions />
        </select>
      </label>
      <p className="-mt-2 pl-24 text-soft">{whyInstrument(part, draft)}</p>
      <div className={ROW}>
        Channel
        <NumberField
          label="Channel"
          min={1}
          max={16}
          className="w-20"
          value={draft.channel + 1}
          onTaken={(value) => set({ channel: Math.round(value) - 1 })}
        />
      </div>
      {shared && (
        <p role="status" className="-mt-2 pl-24 text-soft">
          {shared}
        </p>
      )}
      <StartFields
        start={startOf(part, draft)}
        onSet={(more) => setDraft((now) => ({ ...now, start: { ...now.start, ...more } }))}
      />
      <Button look="main" type="submit" disabled={!edit} className="self-start">
        Change the part
      </Button>
    </form>
  );
};

const STARTS: readonly (readonly [key: keyof PartStart, label: string, help: string])[] = [
  ['volume', 'Volume', 'controller 7, 0 to 127'],
  ['pan', 'Pan', 'controller 10: 0 left, 64 middle, 127 right'],
  ['expression', 'Expression', 'controller 11, 0 to 127'],
];
/** What a receiver takes where nothing is said: volume 100, pan 64, expression 127 (General MIDI 1). */
const UNSAID = { volume: 100, pan: 64, expression: 127, program: 0 } as const;

/** What the part starts with: its program, and controllers that may be left unsaid. */
const StartFields = ({ start, onSet }: { start: PartStart; onSet: (set: Partial<PartStart>) => void }) => (
  <>
    <h3 className="border-b border-strong font-serif text-base">Starts with</h3>
    <div className={ROW} title="General MIDI program, 1 to 128">
      Program
      <span className="flex items-center gap-2">
        <NumberField
          label="Program"
          min={1}
          max={128}
          className="w-20"
          value={(start.program ?? UNSAID.program) + 1}
          onTaken={(value) => onSet({ program: Math.round(value) - 1 })}
        />
        <span className="truncate text-soft">
          {start.program === null ? 'not said' : instrumentForProgram(start.program).name}
        </span>
      </span>
    </div>
    {STARTS.map(([key, label, help]) => (
      <div key={key} className={ROW} title={help}>
        {label}
        <span className="flex items-center gap-2">
          <NumberField
            label={label}
            min={0}
            max={127}
            className="w-20"
            value={start[key] ?? UNSAID[key]}
            onTaken={(value) => onSet({ [key]: Math.round(value) })}
          />
          {start[key] === null ? (
            <span className="text-soft">not said</span>
          ) : (
            <Button
              look="quiet"
              className="!px-1"
              title={`Say no ${label.toLowerCase()} at the start`}
              onClick={() => onSet({ [key]: null })}
            >
              Leave unsaid
            </Button>
          )}
        </span>
      </div>
    ))}
  </>
);

/** What is done to the whole part. */
const WholePart = ({ context }: { context: CommandContext }) => {
  const keyOf = useKeyOf();
  return (
    <>
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
