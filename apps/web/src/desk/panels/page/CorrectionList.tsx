/** All corrections of the page: what and where; gone to, and taken back one by one or all. */

import { type ListedCorrection, type PartId, takeBackCorrections } from '@crispfold/core';
import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import type { CommandContext } from '../../actions/commands/command.js';
import { goToPlace } from '../../actions/looking.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { useRevision } from '../../session/useWritten.js';
import { selectMeterMap } from '../../state/maps.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';

type Listed = readonly { readonly partId: PartId; readonly list: readonly ListedCorrection[] }[];

const useCorrections = (): Listed => {
  const { engine } = useDesk();
  const revision = useRevision();
  const [parts, setParts] = useState<Listed>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed arrangement may have others
  useEffect(() => {
    let over = false;
    engine.ask('corrections', {}).then(
      (answer) => !over && setParts(answer.parts),
      () => undefined,
    );
    return () => {
      over = true;
    };
  }, [revision]);
  return parts;
};

/** So many of a part are shown at first. */
const SHOWN = 60;

export const CorrectionList = ({ context }: { context: CommandContext }) => {
  const dispatch = useAppDispatch();
  const { parts } = useAppSelector(selectArrangement);
  const listed = useCorrections();
  const [kind, setKind] = useState('');
  const names = new Map(parts.map(({ id, name }) => [id, name]));
  const kinds = [...new Set(listed.flatMap(({ list }) => list.map(({ what }) => what)))].sort();
  const count = listed.reduce((sum, { list }) => sum + list.length, 0);
  if (count === 0) return <p className="text-soft">The page is as the plans say: nothing is corrected by hand.</p>;
  const shown = (list: readonly ListedCorrection[]) => (kind === '' ? list : list.filter(({ what }) => what === kind));
  const takeBack = (keys: (id: PartId) => ReadonlySet<string> | 'all') =>
    dispatch(commit(takeBackCorrections(parts, ({ id }) => keys(id))));
  const NONE: ReadonlySet<string> = new Set();
  return (
    <section aria-label="Corrections" className="flex flex-col gap-1 border-t border-rule pt-2">
      <header className="flex flex-wrap items-baseline gap-2">
        <h3 className="font-serif text-base">{counted(count, 'correction')}</h3>
        <select
          aria-label="Kind of correction"
          className="min-h-7 border border-strong bg-sheet px-1"
          value={kind}
          onChange={(event) => setKind(event.target.value)}
        >
          <option value="">of every kind</option>
          {kinds.map((what) => (
            <option key={what}>{what}</option>
          ))}
        </select>
        <Button
          look="quiet"
          className="ml-auto !px-1.5"
          title="Takes those in the list back"
          onClick={() => {
            const all = new Map(listed.map(({ partId, list }) => [partId, new Set(shown(list).map(({ key }) => key))]));
            takeBack((id) => all.get(id) ?? NONE);
          }}
        >
          All as the plan says
        </Button>
      </header>
      {listed.map(({ partId, list }) => {
        const own = shown(list);
        return (
          own.length > 0 && (
            <ul key={partId} aria-label={`Corrections of ${names.get(partId)}`}>
              <li className="text-soft">{names.get(partId)}</li>
              {own.slice(0, SHOWN).map(({ key, what, bar, note }) => (
                <li key={key} className="flex items-center gap-2">
                  <Button
                    look="quiet"
                    className="min-w-0 flex-1 !justify-start !px-1"
                    title={bar === null ? 'Its note is no longer on the page' : 'Go there'}
                    disabled={bar === null}
                    onClick={() =>
                      bar !== null &&
                      goToPlace(context, selectMeterMap(context.getState()).barNumbered(bar).start, `Bar ${bar}`)
                    }
                  >
                    <span className="w-16 shrink-0 text-left">{bar === null ? 'not there' : `bar ${bar}`}</span>
                    <span className="truncate">{[note, what].filter(Boolean).join(': ')}</span>
                  </Button>
                  <Button
                    look="quiet"
                    className="!px-1"
                    aria-label={`Take back: ${what}${note ? ` of ${note}` : ''}${bar === null ? '' : `, bar ${bar}`}`}
                    title="As the plan says"
                    onClick={() => takeBack((id) => (id === partId ? new Set([key]) : NONE))}
                  >
                    <X size={14} aria-hidden />
                  </Button>
                </li>
              ))}
              {own.length > SHOWN && <li className="text-soft">and {own.length - SHOWN} more</li>}
            </ul>
          )
        );
      })}
    </section>
  );
};
