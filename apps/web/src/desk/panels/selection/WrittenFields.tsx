/** Played and written side by side: where a note is played and where it stands, how long it sounds and what the page says. */

import {
  NOTE_VALUES,
  type Note,
  type PageWish,
  type Part,
  placeInNumbers,
  placeTyped,
  rescaleTicks,
  WRITTEN_PPQ,
  type WrittenNote,
  writtenLengthInWords,
} from '@crispfold/core';
import { useMemo } from 'react';
import { toast } from 'sonner';
import { Typed } from '../../../ui/Typed.js';
import { correctPage } from '../../actions/correcting.js';
import { useAppDispatch } from '../../session/desk.js';
import { useLayers } from '../../session/useWritten.js';
import { selectMeterMap, selectTempoMap } from '../../state/maps.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';

const BOX = 'min-h-7 w-full min-w-0 border border-strong bg-sheet px-1 tabular-nums';

/** How a note is played against the page: early or late in milliseconds, and how much of its written length it sounds. */
const useApart = (note: Note, written: WrittenNote | undefined, ppq: number) => {
  const tempoMap = useAppSelector(selectTempoMap);
  if (!written) return null;
  const start = rescaleTicks(written.onset, WRITTEN_PPQ, ppq);
  const end = rescaleTicks(written.onset + written.duration, WRITTEN_PPQ, ppq);
  const late = Math.round((tempoMap.secondsAt(note.onset) - tempoMap.secondsAt(start)) * 1000);
  const sounding = tempoMap.secondsAt(note.onset + note.duration) - tempoMap.secondsAt(note.onset);
  const share = Math.round((100 * sounding) / Math.max(0.001, tempoMap.secondsAt(end) - tempoMap.secondsAt(start)));
  return {
    start,
    words: late === 0 ? 'on its place' : `${Math.abs(late)} ms ${late > 0 ? 'late' : 'early'}`,
    share: `${share} % of it`,
  };
};

/** See the file's head: of one note, the first of those selected. */
export const WrittenFields = ({ part, note }: { readonly part: Part; readonly note: Note }) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const layer = useLayers().get(part.id);
  const written = useMemo(
    () => layer?.notes.find(({ id, sources }) => id === note.id || sources.includes(note.id)),
    [layer, note.id],
  );
  const meterMap = useAppSelector(selectMeterMap);
  const apart = useApart(note, written, arrangement.ppq);
  if (!written || !apart) {
    return <p className="pt-2 text-soft">The page does not show this note.</p>;
  }
  const wish = (one: PageWish) => void dispatch(correctPage(one));
  const place = placeInNumbers(meterMap, arrangement.ppq, apart.start);
  const move = (typed: string) => {
    const to = placeTyped(meterMap, arrangement.ppq, typed);
    if (to.ok) wish({ wish: 'moved', by: rescaleTicks(to.value, arrangement.ppq, WRITTEN_PPQ) - written.onset });
    else toast.error(to.problem.message);
  };
  const length = writtenLengthInWords(written.duration, WRITTEN_PPQ);
  return (
    <section aria-label="Played and written">
      <h3 className="mt-3 border-b border-strong font-serif text-base">Played and written</h3>
      <div className="grid grid-cols-[3.2rem_minmax(0,0.8fr)_minmax(0,1.3fr)] items-center gap-x-2 gap-y-1 pt-1">
        <span />
        <span className="text-soft">played</span>
        <span className="text-soft">written</span>
        <label htmlFor="written-start" className="text-soft">
          Start
        </label>
        <span className="tabular-nums">{apart.words}</span>
        <Typed
          id="written-start"
          label="Written start"
          title="Where the page has it begin: bar.beat, or bar.beat.tick"
          className="w-full tabular-nums"
          value={place}
          onTaken={move}
        />
        <label htmlFor="written-length" className="text-soft">
          Length
        </label>
        <span className="tabular-nums">{apart.share}</span>
        <select
          id="written-length"
          aria-label="Written length"
          title="The value that the page gives all selected notes"
          className={BOX}
          value=""
          onChange={({ target: { value } }) =>
            wish({ wish: 'length', length: Math.round(Number(value) * 4 * WRITTEN_PPQ) })
          }
        >
          <option value="">{length}</option>
          {NOTE_VALUES.map(([fraction, name]) => (
            <option key={name} value={fraction}>
              {name}
            </option>
          ))}
        </select>
      </div>
    </section>
  );
};
