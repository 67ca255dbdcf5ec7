/** A way of playing for the selected notes: its word on the page, the word that ends it, and what brings it about in sound. */

import { LONGEST_WORDS } from '@crispfold/core';
import { useMemo } from 'react';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import { correctPage } from '../../actions/correcting.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useLastSettings } from '../../controls/useLastSettings.js';
import { useAppDispatch } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectedOnView } from '../../state/selectors.js';
import { WaySoundFields } from './WaySoundFields.js';
import { PIZZICATO, wayOfWord, waysOf, wordsToChoose } from './wayModel.js';

const BOX = 'min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1';

export const WayPanel = () => {
  const dispatch = useAppDispatch();
  const { parts } = useAppSelector(selectArrangement);
  const notes = useAppSelector(selectedOnView);
  const [way, change] = useLastSettings('way', PIZZICATO);
  const known = useMemo(() => waysOf(parts), [parts]);
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
            onChange={({ target }) => change(wayOfWord(target.value, known))}
          />
        </label>
        <datalist id="ways-of-playing">
          {wordsToChoose(known).map((word) => (
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
        <WaySoundFields sound={way.sound} onTaken={(sound) => change({ sound })} />
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
