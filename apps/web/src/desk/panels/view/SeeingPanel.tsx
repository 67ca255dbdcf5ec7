/** How the roll is seen: what hue shows, what is brought forward, names, rows, the scale, the strip of the whole piece. */

import { chosenNaming, pitchClassNames, SCALE_IDS, SCALES, type ScaleId } from '@crispfold/core';
import { useMemo } from 'react';
import { storeNaming } from '../../../browser/naming.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch } from '../../session/desk.js';
import { useLayers } from '../../session/useWritten.js';
import { forwardChoices, forwardKey, forwardName } from '../../state/forward.js';
import { HUE_NAMES, HUES } from '../../state/hueModes.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { lookingActions, NAMES_SHOWN, ROWS_SHOWN, type Seeing } from '../../state/lookingSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';

const NAMES: { readonly [names in Seeing['names']]: string } = {
  room: 'where there is room',
  always: 'always',
  never: 'never',
};
const ROWS: { readonly [rows in Seeing['rows']]: string } = {
  all: 'all',
  used: 'those in use',
  key: 'those of the scale, and in use',
  map: 'those of the percussion map, and in use',
};
const SWITCHES: readonly (readonly [
  setting: 'keyMarked' | 'outline' | 'strip' | 'recording' | 'recordingBehind',
  words: string,
])[] = [
  ['keyMarked', 'Mark the rows of the scale'],
  ['outline', 'Faint outline of Written under Played, and of Played under Written'],
  ['strip', 'The whole piece as a strip above the roll'],
  ['recording', 'The recording under the ruler'],
  ['recordingBehind', 'The recording behind the notes'],
];

/** One of a few things, by its name. */
const Choice = <Value extends string>({
  label,
  value,
  values,
  onChange,
}: {
  label: string;
  value: Value;
  values: readonly (readonly [value: Value, words: string])[];
  onChange: (value: Value) => void;
}) => (
  <label className="flex items-center gap-2">
    <span className="w-14">{label}</span>
    <select
      className="min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1"
      value={value}
      onChange={(event) => onChange(event.target.value as Value)}
    >
      {values.map(([one, words]) => (
        <option key={one} value={one}>
          {words}
        </option>
      ))}
    </select>
  </label>
);

const roots = () => pitchClassNames().map((name, root) => [String(root), name] as const);

export const SeeingPanel = () => {
  const dispatch = useAppDispatch();
  const seeing = useAppSelector(({ looking }) => looking.seeing);
  const forward = useAppSelector(({ selecting }) => selecting.forward);
  const layers = useLayers();
  const choices = useMemo(() => {
    const found = forwardChoices(layers.values());
    // What is in force can be seen to be so, though its last note went.
    const known = forward === null || found.some((one) => forwardKey(one) === forwardKey(forward));
    return known ? found : [...found, forward];
  }, [layers, forward]);
  const set = (next: Partial<Seeing>) => dispatch(lookingActions.seen(next));
  const { scale } = seeing;
  return (
    <SettingsPanel
      title="What is seen"
      explanation="How the roll shows notes. Nothing of the music changes; it is so again when you come back."
      onClose={() => dispatch(layoutActions.toolShown(null))}
    >
      <div className="flex flex-col gap-3 text-sm">
        <Choice
          label="Hue"
          value={seeing.hue}
          values={HUES.map((hue) => [hue, HUE_NAMES[hue]])}
          onChange={(hue) => set({ hue })}
        />
        <Choice
          label="Forward"
          value={forwardKey(forward)}
          values={[
            ['', 'all voices and staves'],
            ...choices.map((one) => [forwardKey(one), forwardName(one)] as const),
          ]}
          onChange={(chosen) =>
            dispatch(selectingActions.broughtForward(choices.find((one) => forwardKey(one) === chosen) ?? null))
          }
        />
        <Choice
          label="Names"
          value={seeing.names}
          values={NAMES_SHOWN.map((names) => [names, NAMES[names]])}
          onChange={(names) => set({ names })}
        />
        <Choice
          label="Rows"
          value={seeing.rows}
          values={ROWS_SHOWN.map((rows) => [rows, ROWS[rows]])}
          onChange={(rows) => set({ rows })}
        />
        <Choice<ScaleId | ''>
          label="Scale"
          value={scale?.id ?? ''}
          values={[['', 'the key signature'], ...SCALE_IDS.map((id) => [id, SCALES[id].name] as const)]}
          onChange={(id) => set({ scale: id === '' ? null : { id, root: scale?.root ?? 0 } })}
        />
        {scale && (
          <Choice
            label="Root"
            value={String(scale.root)}
            values={roots()}
            onChange={(root) => set({ scale: { ...scale, root: Number(root) } })}
          />
        )}
        {SWITCHES.map(([setting, words]) => (
          <label key={setting} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-[var(--fold)]"
              checked={seeing[setting]}
              onChange={() => set({ [setting]: !seeing[setting] })}
            />
            {words}
          </label>
        ))}
        <Choice
          label="Called"
          value={chosenNaming().names}
          values={[
            ['english', 'C, C♯, D … B♭, B'],
            ['german', 'C, Cis, D … B, H'],
            ['solfège', 'Do, Do♯, Re … Si♭, Si'],
          ]}
          onChange={(names) => storeNaming({ ...chosenNaming(), names })}
        />
        <Choice
          label="60 is"
          value={String(chosenNaming().middleC)}
          values={(['3', '4', '5'] as const).map((octave) => [octave, `${pitchClassNames()[0]}${octave}, middle C`])}
          onChange={(octave) => storeNaming({ ...chosenNaming(), middleC: Number(octave) as 3 | 4 | 5 })}
        />
        <p className="text-soft">Names hold for all arrangements; the Desk opens anew with them.</p>
        <p className="text-soft">The cut of a note’s left edge shows its part, whatever hue shows.</p>
      </div>
    </SettingsPanel>
  );
};
