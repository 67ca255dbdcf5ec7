/** What brings a way of playing about in sound: nothing, another program, a controller or a key that commands it. */

import { GM_PROGRAMS, type WaySound } from '@crispfold/core';
import { Fragment } from 'react';
import { NumberField } from '../../../ui/NumberField.js';
import { FIRST_SOUND } from './wayModel.js';

type By = WaySound['by'] | 'nothing';

const BY: readonly (readonly [by: By, words: string])[] = [
  ['nothing', 'Only on the page'],
  ['program', 'Another program'],
  ['controller', 'A controller'],
  ['key', 'A key that commands it'],
];

/** What is sent over the first note, and what goes back after the last: the field, the words before it, its name, the most. */
const CONTROLLER_FIELDS = [
  ['controller', 'CC', 'Controller', 119],
  ['value', 'is', 'Its value', 127],
  ['rest', 'then', 'The value it goes back to', 127],
] as const;

const BOX = 'min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1';

export const WaySoundFields = ({
  sound,
  onTaken,
}: {
  sound: WaySound | null;
  onTaken: (sound: WaySound | null) => void;
}) => (
  <>
    <label className="flex items-center gap-2">
      In sound
      <select
        className={BOX}
        value={sound?.by ?? 'nothing'}
        onChange={({ target }) =>
          onTaken(target.value === 'nothing' ? null : FIRST_SOUND[target.value as WaySound['by']])
        }
      >
        {BY.map(([by, words]) => (
          <option key={by} value={by}>
            {words}
          </option>
        ))}
      </select>
    </label>
    {sound?.by === 'program' && (
      <label className="flex items-center gap-2">
        Program
        <select
          className={BOX}
          value={sound.program}
          onChange={({ target }) => onTaken({ by: 'program', program: Number(target.value) })}
        >
          {GM_PROGRAMS.map((name, program) => (
            <option key={name} value={program}>
              {program + 1} {name}
            </option>
          ))}
        </select>
      </label>
    )}
    {sound?.by === 'controller' && (
      <p className="flex flex-wrap items-center gap-1.5">
        {CONTROLLER_FIELDS.map(([key, before, label, max]) => (
          <Fragment key={key}>
            {before}
            <NumberField
              label={label}
              className="w-12"
              min={0}
              max={max}
              value={sound[key]}
              onTaken={(value) => onTaken({ ...sound, [key]: value })}
            />
          </Fragment>
        ))}
      </p>
    )}
    {sound?.by === 'key' && (
      <p className="flex items-center gap-1.5">
        Key
        <NumberField
          label="The key, by its MIDI number"
          className="w-14"
          min={0}
          max={127}
          value={sound.pitch}
          onTaken={(pitch) => onTaken({ by: 'key', pitch })}
        />
        struck just before, in MIDI files
      </p>
    )}
  </>
);
