/** What brings a way of playing about in sound: nothing, another program, a controller or a key that commands it. */

import { GM_PROGRAMS, type WaySound } from '@crispfold/core';
import { NumberField } from '../../../ui/NumberField.js';
import { FIRST_SOUND } from './wayModel.js';

type By = WaySound['by'] | 'nothing';

const BY: readonly (readonly [by: By, words: string])[] = [
  ['nothing', 'Only on the page'],
  ['program', 'Another program'],
  ['controller', 'A controller'],
  ['key', 'A key that commands it'],
];

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
        CC
        <NumberField
          label="Controller"
          className="w-12"
          min={0}
          max={119}
          value={sound.controller}
          onTaken={(controller) => onTaken({ ...sound, controller })}
        />
        is
        <NumberField
          label="Its value"
          className="w-12"
          min={0}
          max={127}
          value={sound.value}
          onTaken={(value) => onTaken({ ...sound, value })}
        />
        then
        <NumberField
          label="The value it goes back to"
          className="w-12"
          min={0}
          max={127}
          value={sound.rest}
          onTaken={(rest) => onTaken({ ...sound, rest })}
        />
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
