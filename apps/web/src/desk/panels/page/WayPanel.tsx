/** A way of playing for the selected notes: its word on the page, the word that ends it, and what brings it about in sound. */

import { GM_PROGRAMS, LONGEST_WORDS, type WaySound } from '@crispfold/core';
import { useMemo } from 'react';
import { Button } from '../../../ui/Button.js';
import { NumberField } from '../../../ui/NumberField.js';
import { counted } from '../../../ui/words.js';
import { correctPage } from '../../actions/correcting.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectedOnView } from '../../state/selectors.js';

/** Words that players read, with those that end them, and the General MIDI program that sounds so (common practice). */
const READY: readonly { readonly word: string; readonly back: string; readonly program?: number }[] = [
  { word: 'pizz.', back: 'arco', program: 45 },
  { word: 'trem.', back: 'ord.', program: 44 },
  { word: 'con sord.', back: 'senza sord.' },
  { word: 'mute', back: 'open', program: 59 },
  { word: 'stopped', back: 'open' },
  { word: 'sul pont.', back: 'ord.' },
  { word: 'sul tasto', back: 'ord.' },
  { word: 'col legno', back: 'arco' },
  { word: 'flutter-tongue', back: 'ord.' },
  { word: 'palm mute', back: 'ord.', program: 28 },
];

type By = WaySound['by'] | 'nothing';

const BY: readonly (readonly [by: By, words: string])[] = [
  ['nothing', 'Only on the page'],
  ['program', 'Another program'],
  ['controller', 'A controller'],
  ['key', 'A key that commands it'],
];

const FIRST: { readonly [by in WaySound['by']]: WaySound } = {
  program: { by: 'program', program: 45 },
  controller: { by: 'controller', controller: 32, value: 127, rest: 0 },
  key: { by: 'key', pitch: 24 },
};

const BOX = 'min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1';

/** A word for a way of playing, the word that ends it, and how it sounds. */
interface Way {
  readonly word: string;
  readonly back: string;
  readonly sound: WaySound | null;
}

/** What it begins with. */
const PIZZICATO: Way = {
  word: 'pizz.',
  back: 'arco',
  sound: { by: 'program', program: 45 },
};

export const WayPanel = () => {
  const dispatch = useAppDispatch();
  const { parts } = useAppSelector(selectArrangement);
  const notes = useAppSelector(selectedOnView);
  const [way, change] = useLastSettings('way', PIZZICATO);
  /** Those that are there already, to be chosen again with their sound. */
  const known = useMemo(
    () =>
      new Map(
        parts.flatMap(({ overrides }) =>
          (overrides?.list ?? []).flatMap((own) => (own.kind === 'way' ? [[own.word, own] as const] : [])),
        ),
      ),
    [parts],
  );
  const takeWord = (word: string) => {
    const before = known.get(word);
    const ready = READY.find((one) => one.word === word);
    if (before) change({ word, back: before.back, sound: before.sound ?? null });
    else if (ready) {
      const sound: WaySound | null = ready.program === undefined ? null : { by: 'program', program: ready.program };
      change({ word, back: ready.back, sound });
    } else change({ word });
  };
  const { sound } = way;
  const give = (word: string) =>
    void dispatch(correctPage({ wish: 'way', word, back: way.back, ...(sound ? { sound } : {}) }));
  return (
    <SettingsPanel
      title="Way of playing"
      explanation="From the first to the last of the selected notes: a word over the first, a word over what follows, and its sound in MIDI and here."
      onClose={() => dispatch(layoutActions.toolShown(null))}
    >
      <form
        className="flex flex-col gap-3 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          give(way.word);
        }}
      >
        <label className="flex items-center gap-2">
          Word
          <input
            className={BOX}
            list="ways-of-playing"
            maxLength={LONGEST_WORDS}
            autoComplete="off"
            value={way.word}
            onChange={({ target }) => takeWord(target.value)}
          />
        </label>
        <datalist id="ways-of-playing">
          {[...new Set([...known.keys(), ...READY.map(({ word }) => word)])].map((word) => (
            <option key={word} value={word} />
          ))}
        </datalist>
        <label className="flex items-center gap-2">
          Ended by
          <input
            className={BOX}
            maxLength={LONGEST_WORDS}
            autoComplete="off"
            placeholder="no word"
            value={way.back}
            onChange={({ target }) => change({ back: target.value })}
          />
        </label>
        <label className="flex items-center gap-2">
          In sound
          <select
            className={BOX}
            value={sound?.by ?? 'nothing'}
            onChange={({ target }) =>
              change({ sound: target.value === 'nothing' ? null : FIRST[target.value as WaySound['by']] })
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
              onChange={({ target }) => change({ sound: { by: 'program', program: Number(target.value) } })}
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
              onTaken={(controller) => change({ sound: { ...sound, controller } })}
            />
            is
            <NumberField
              label="Its value"
              className="w-12"
              min={0}
              max={127}
              value={sound.value}
              onTaken={(value) => change({ sound: { ...sound, value } })}
            />
            then
            <NumberField
              label="The value it goes back to"
              className="w-12"
              min={0}
              max={127}
              value={sound.rest}
              onTaken={(rest) => change({ sound: { ...sound, rest } })}
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
              onTaken={(pitch) => change({ sound: { by: 'key', pitch } })}
            />
            struck just before, in MIDI files
          </p>
        )}
        <p role="status" className="text-soft">
          {notes.length === 0 ? 'Nothing is selected.' : `On ${counted(notes.length, 'selected note')}.`}
        </p>
        <div className="flex flex-wrap gap-2">
          <Button look="main" type="submit" disabled={notes.length === 0 || way.word.trim() === ''}>
            Play {way.word}
          </Button>
          <Button look="quiet" disabled={notes.length === 0} onClick={() => give('')}>
            Take it away
          </Button>
        </div>
      </form>
    </SettingsPanel>
  );
};
