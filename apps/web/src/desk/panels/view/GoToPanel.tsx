/** Go to a bar by its number, or to a section by its name. */

import { barPosition } from '@crispfold/core';
import { useEffect, useRef, useState } from 'react';
import { Button } from '../../../ui/Button.js';
import type { CommandContext } from '../../actions/commands/command.js';
import { goToPlace } from '../../actions/looking.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { selectBars, selectMeterMap } from '../../state/maps.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';

export const GoToPanel = ({ context }: { context: CommandContext }) => {
  const dispatch = useAppDispatch();
  const { markers, ppq } = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const bars = useAppSelector(selectBars);
  const [first, last] = [bars[0]?.number ?? 1, bars[bars.length - 1]?.number ?? 1];
  const [typed, setTyped] = useState('');
  const field = useRef<HTMLInputElement>(null);
  // After the panel itself took the keys.
  useEffect(() => field.current?.focus(), []);
  const sought = typed.trim().toLowerCase();
  const found = markers.filter(({ text }) => sought !== '' && text.toLowerCase().includes(sought));
  const bar = /^\d+$/.test(sought) ? Number(sought) : null;
  const problem =
    sought === ''
      ? ''
      : bar !== null
        ? bar < first || bar > last
          ? `The piece has bars ${first} to ${last}.`
          : ''
        : found.length === 0
          ? 'No section has that name.'
          : '';
  const go = (tick: number, words: string) => {
    goToPlace(context, tick, words);
    dispatch(layoutActions.toolShown(null));
  };
  const placeOf = (tick: number) => `bar ${barPosition(meterMap, ppq, tick).bar}`;
  return (
    <SettingsPanel
      title="Go to"
      explanation="A bar by its number, or a section by its name. The playhead goes along."
      onClose={() => dispatch(layoutActions.toolShown(null))}
    >
      <form
        className="flex flex-col gap-3 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          if (problem || sought === '') return;
          if (bar !== null) go(meterMap.barNumbered(bar).start, `Bar ${bar}`);
          else if (found[0]) go(found[0].tick, `${found[0].text}, ${placeOf(found[0].tick)}`);
        }}
      >
        <label className="flex items-center gap-2">
          Bar or section
          <input
            ref={field}
            className="min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1.5"
            value={typed}
            aria-invalid={problem !== ''}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        {problem && (
          <p role="alert" className="text-fold-ink">
            {problem}
          </p>
        )}
        <Button look="main" type="submit" className="self-start" disabled={sought === '' || problem !== ''}>
          Go there
        </Button>
        {markers.length > 0 && (
          <ul aria-label="Sections">
            {markers.map(({ tick, text }) => (
              <li key={`${tick} ${text}`} className="border-b border-rule">
                <button
                  type="button"
                  className="flex min-h-7 w-full items-center justify-between gap-2 px-1 text-left hover:bg-shade"
                  onClick={() => go(tick, `${text}, ${placeOf(tick)}`)}
                >
                  <span className="min-w-0 truncate">{text}</span>
                  <span className="whitespace-nowrap text-soft">{placeOf(tick)}</span>
                </button>
              </li>
            ))}
          </ul>
        )}
      </form>
    </SettingsPanel>
  );
};
