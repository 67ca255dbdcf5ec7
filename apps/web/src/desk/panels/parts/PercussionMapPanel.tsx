/** How the sounds of a percussion part are called and written: a map of its own, begun from General MIDI. */

import { percussionMapFromFile, percussionMapToFile } from '@crispfold/contract';
import {
  changePercussionMap,
  instrumentById,
  isUnpitched,
  LONGEST_SOUND_NAME,
  NOTEHEADS,
  type Notehead,
  type Part,
  type PercussionMap,
  type PercussionRow,
  PLACE_STEPS,
  percussionSound,
  pitchName,
} from '@crispfold/core';
import { Volume2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { FileButtons } from '../../../ui/FileButtons.js';
import { tellDone } from '../../actions/carryOutEdit.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectFrontPart } from '../../state/selectors.js';

const BOX = 'min-h-7 min-w-0 border border-strong bg-sheet px-1';

export const PercussionMapPanel = () => {
  const dispatch = useAppDispatch();
  const front = useAppSelector(selectFrontPart);
  const close = () => dispatch(layoutActions.toolShown(null));
  return (
    <SettingsPanel
      title="Percussion map"
      explanation="How each sound of the front part is called and written. What you leave alone is as in General MIDI."
      onClose={close}
    >
      {front && isUnpitched(instrumentById(front.instrument)) ? (
        <Settings key={front.id} part={front} onDone={close} />
      ) : (
        <p>The front part is no percussion: its notes stand where their pitches do.</p>
      )}
    </SettingsPanel>
  );
};

/** A place on the staff, counted from the middle line by steps. */
const placeOf = ({ step, octave }: Pick<PercussionRow, 'step' | 'octave'>): number =>
  octave * 7 + PLACE_STEPS.indexOf(step) - MIDDLE;
const MIDDLE = 4 * 7 + PLACE_STEPS.indexOf('B');
const [HIGHEST, LOWEST] = [9, -9];

const placeAt = (place: number): Pick<PercussionRow, 'step' | 'octave'> => ({
  step: PLACE_STEPS[(place + MIDDLE) % 7] as PercussionRow['step'],
  octave: Math.floor((place + MIDDLE) / 7),
});

/** "line 3", "space 4", "above the staff", "2nd ledger line below": counted from below, as players do. */
const placeName = (place: number): string => {
  if (Math.abs(place) <= 4) return place % 2 === 0 ? `line ${place / 2 + 3}` : `space ${(place + 5) / 2}`;
  const side = place > 0 ? 'above' : 'below';
  const ledger = Math.floor((Math.abs(place) - 4) / 2);
  if (ledger === 0) return `${side} the staff`;
  const line = `ledger line ${ledger} ${side}`;
  return Math.abs(place) % 2 === 0 ? line : `past ${line}`;
};

const HEADS: { readonly [head in Notehead]: string } = {
  normal: 'round',
  x: 'cross',
  diamond: 'diamond',
  triangle: 'triangle',
  slash: 'slash',
};

/** All rows that are shown: sounds that the part plays or its map names, from high to low. */
const rowsOf = (sounds: Iterable<number>, map: PercussionMap): PercussionRow[] =>
  [...new Set([...sounds, ...map.map(({ sound }) => sound)])]
    .sort((a, b) => b - a)
    .map((sound) => ({ sound, ...percussionSound(sound, map) }));

const Settings = ({ part, onDone }: { part: Part; onDone: () => void }) => {
  const dispatch = useAppDispatch();
  const played = part.notes.map((note) => note.pitch);
  const [rows, setRows] = useState(() => rowsOf(played, part.percussionMap ?? []));
  const edit = changePercussionMap(part, rows.map(named));
  const nameless = rows.some(({ name }) => name.trim() === '');
  const set = (sound: number, change: Partial<PercussionRow>) =>
    setRows(rows.map((row) => (row.sound === sound ? { ...row, ...change } : row)));
  const open = (text: string) => {
    const read = percussionMapFromFile(text);
    if (read.ok) setRows(rowsOf(played, read.map));
    else toast.error(read.message, { duration: 9000 });
  };
  return (
    <form
      className="flex flex-col gap-2 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        if (!edit || nameless) return;
        dispatch(commit(edit));
        dispatch(tellDone(edit.label));
        onDone();
      }}
    >
      <ul className="flex flex-col">
        {rows.map((row) => (
          <Row key={row.sound} part={part} row={row} onChange={(change) => set(row.sound, change)} />
        ))}
      </ul>
      <label className="flex items-center gap-2">
        Add a sound
        <select
          className={`${BOX} flex-1`}
          value=""
          onChange={(event) => setRows(rowsOf([...rows.map(({ sound }) => sound), Number(event.target.value)], rows))}
        >
          <option value="" disabled>
            choose
          </option>
          {Array.from({ length: 128 }, (_, sound) => sound)
            .filter((sound) => !rows.some((row) => row.sound === sound))
            .map((sound) => (
              <option key={sound} value={sound}>
                {sound} {percussionSound(sound).name}
              </option>
            ))}
        </select>
      </label>
      {nameless && <p role="alert">Each sound needs a name.</p>}
      <div className="flex flex-wrap items-center gap-1">
        <Button look="main" type="submit" disabled={!edit || nameless}>
          Use this map
        </Button>
        <Button look="quiet" className="!px-1.5" onClick={() => setRows(rowsOf(played, []))}>
          General MIDI
        </Button>
        <FileButtons
          label="File of a percussion map"
          opens="Bring a percussion map from a file"
          takes="Take this map away as a file"
          onOpened={open}
          file={rows.length > 0 ? () => ({ name: 'percussion map.json', text: percussionMapToFile(rows) }) : null}
        />
      </div>
    </form>
  );
};

const named = (row: PercussionRow): PercussionRow => ({ ...row, name: row.name.trim() });

const Row = ({
  part,
  row,
  onChange,
}: {
  part: Part;
  row: PercussionRow;
  onChange: (change: Partial<PercussionRow>) => void;
}) => {
  const { player } = useDesk();
  const { sound, name, notehead, voice } = row;
  const place = placeOf(row);
  return (
    <li className="grid grid-cols-[44px_1fr] gap-x-2 border-b border-rule py-1.5">
      <Staff row={row} />
      <div className="flex min-w-0 flex-col gap-1">
        <span className="flex items-center gap-1">
          <span className="w-16 shrink-0 text-soft" title="Its MIDI key">
            {sound} {pitchName(sound)}
          </span>
          <input
            aria-label={`Name of sound ${sound}`}
            className={`${BOX} flex-1 px-1.5`}
            maxLength={LONGEST_SOUND_NAME}
            value={name}
            onChange={(event) => onChange({ name: event.target.value })}
          />
          <Button
            look="quiet"
            className="!px-1"
            aria-label={`Hear ${name}`}
            title={`Hear ${name}`}
            onClick={() => void player.sound(part, sound, 90)}
          >
            <Volume2 size={14} aria-hidden />
          </Button>
        </span>
        <span className="flex items-center gap-1">
          <select
            aria-label={`Line of ${name}`}
            className={`${BOX} flex-1`}
            value={place}
            onChange={(event) => onChange(placeAt(Number(event.target.value)))}
          >
            {Array.from({ length: HIGHEST - LOWEST + 1 }, (_, at) => HIGHEST - at).map((one) => (
              <option key={one} value={one}>
                {placeName(one)}
              </option>
            ))}
          </select>
          <select
            aria-label={`Head of ${name}`}
            className={BOX}
            value={notehead}
            onChange={(event) => onChange({ notehead: event.target.value as Notehead })}
          >
            {NOTEHEADS.map((head) => (
              <option key={head} value={head}>
                {HEADS[head]}
              </option>
            ))}
          </select>
        </span>
        <span className="flex items-center gap-1">
          <span className="w-16 shrink-0 text-soft">Stems</span>
          <select
            aria-label={`Voice of ${name}`}
            className={`${BOX} flex-1`}
            value={voice}
            onChange={(event) => onChange({ voice: event.target.value === '2' ? 2 : 1 })}
          >
            <option value={1}>up: the hands</option>
            <option value={2}>down: the feet</option>
          </select>
        </span>
      </div>
    </li>
  );
};

/** Half the distance between two lines, in pixels. */
const STEP = 2.5;
const STAFF_HEIGHT = 64;

/** A small picture of where a sound stands. */
const Staff = ({ row }: { row: PercussionRow }) => {
  const yOf = (place: number) => STAFF_HEIGHT / 2 - place * STEP;
  const place = placeOf(row);
  const y = yOf(place);
  const up = row.voice === 1;
  const ledgers = Array.from({ length: 19 }, (_, at) => at - 9).filter(
    (line) => line % 2 === 0 && Math.abs(line) > 4 && Math.abs(line) <= Math.abs(place) && line * place > 0,
  );
  return (
    <svg aria-hidden viewBox={`0 0 44 ${STAFF_HEIGHT}`} className="h-16 w-11 self-center text-ink">
      <g stroke="currentColor" strokeWidth={0.8}>
        {[-4, -2, 0, 2, 4].map((line) => (
          <line key={line} x1={2} x2={42} y1={yOf(line)} y2={yOf(line)} />
        ))}
        {ledgers.map((line) => (
          <line key={line} x1={15} x2={29} y1={yOf(line)} y2={yOf(line)} />
        ))}
        <line x1={up ? 25.5 : 18.5} x2={up ? 25.5 : 18.5} y1={y} y2={up ? y - 17 : y + 17} strokeWidth={1.2} />
      </g>
      <path d={HEAD_SHAPES[row.notehead](22, y)} fill="currentColor" stroke="currentColor" strokeWidth={1.2} />
    </svg>
  );
};

const HEAD_SHAPES: { readonly [head in Notehead]: (x: number, y: number) => string } = {
  normal: (x, y) => `M${x - 3.2},${y} a3.2,2.3 0 1,0 6.4,0 a3.2,2.3 0 1,0 -6.4,0 z`,
  x: (x, y) => `M${x - 3},${y - 2.5} L${x + 3},${y + 2.5} M${x - 3},${y + 2.5} L${x + 3},${y - 2.5}`,
  diamond: (x, y) => `M${x - 3.4},${y} L${x},${y - 2.6} L${x + 3.4},${y} L${x},${y + 2.6} z`,
  triangle: (x, y) => `M${x - 3.2},${y + 2.5} L${x + 3.2},${y + 2.5} L${x},${y - 2.6} z`,
  slash: (x, y) => `M${x - 3.2},${y + 2.5} L${x - 0.8},${y + 2.5} L${x + 3.2},${y - 2.5} L${x + 0.8},${y - 2.5} z`,
};
