/** What the checks noticed: by kind, with a place, a reason and a mend for each. */

import {
  barPosition,
  checkOf,
  FINDING_KINDS,
  type Finding,
  type FindingKind,
  type Mend,
  mendChanges,
} from '@crispfold/core';
import { useEffect, useMemo, useRef } from 'react';
import { useStore } from 'react-redux';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import type { CommandContext } from '../../actions/commands/command.js';
import { goToFinding, playAround, thenToNext } from '../../actions/commands/findingCommands.js';
import { dismiss, mend, withOtherMend } from '../../actions/findingList.js';
import { useKeyOf } from '../../controls/useKeyOf.js';
import { useAppDispatch } from '../../session/desk.js';
import { useWorkState } from '../../session/useWritten.js';
import { checksActions } from '../../state/checksSlice.js';
import { listed, notDismissed, selectFindings } from '../../state/findings.js';
import { selectMeterMap } from '../../state/maps.js';
import { type RootState, useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';

/** Longer lists are cut: nobody reads more, and Mend all takes the rest along. */
const MOST_SHOWN = 40;

const SEVERITY_WORDS = { wrong: 'wrong', likely: 'likely wrong', look: 'worth a look' } as const;

export const FindingsPanel = ({ context }: { context: CommandContext }) => {
  const keyOf = useKeyOf();
  const store = useStore<RootState>();
  const findingPart = useAppSelector(({ checks }) => checks.findingPart);
  const findingKind = useAppSelector(({ checks }) => checks.findingKind);
  const arrangement = useAppSelector(selectArrangement);
  const all = useAppSelector(selectFindings);
  const working = useWorkState().kind === 'working';
  // biome-ignore lint/correctness/useExhaustiveDependencies: the list depends on these parts of the state
  const findings = useMemo(() => listed(store.getState()), [all, arrangement.parts, findingPart, findingKind]);
  const groups = FINDING_KINDS.map((kind) => ({ kind, items: findings.filter((f) => f.kind === kind) })).filter(
    ({ items }) => items.length > 0,
  );
  return (
    <section aria-label="Findings" className="flex flex-col text-sm">
      <Filters />
      {groups.length === 0 && (
        <p className="p-3 text-soft">
          {working
            ? 'Looking through the parts…'
            : findingPart === null && findingKind === null
              ? 'The checks noticed nothing. Play it through, and look at the page.'
              : 'Nothing of this sort here. Choose all parts and all kinds to see the rest.'}
        </p>
      )}
      {groups.map(({ kind, items }) => (
        <KindGroup key={kind} kind={kind} items={items} context={context} />
      ))}
      {groups.length > 0 && (
        <p className="border-t border-rule px-3 py-2 text-soft">
          {keyOf('nextFinding')} and {keyOf('previousFinding')} go through them, {keyOf('mendFinding')} mends,{' '}
          {keyOf('dismissFinding')} dismisses.
        </p>
      )}
    </section>
  );
};

const Filters = () => {
  const dispatch = useAppDispatch();
  const findingPart = useAppSelector(({ checks }) => checks.findingPart);
  const findingKind = useAppSelector(({ checks }) => checks.findingKind);
  const arrangement = useAppSelector(selectArrangement);
  const open = notDismissed(useAppSelector(selectFindings), arrangement.parts);
  const inPart = open.filter((f) => findingPart === null || f.partId === findingPart);
  const look = 'min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1';
  return (
    <div className="flex flex-col gap-1.5 border-b border-rule px-3 py-2">
      <label className="flex items-center gap-2">
        <span className="w-9">Part</span>
        <select
          className={look}
          value={findingPart ?? ''}
          onChange={(event) =>
            dispatch(checksActions.findingPartChosen(event.target.value === '' ? null : Number(event.target.value)))
          }
        >
          <option value="">All parts · {open.length}</option>
          {arrangement.parts.map((part) => (
            <option key={part.id} value={part.id}>
              {part.name} · {open.filter((f) => f.partId === part.id).length}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        <span className="w-9">Kind</span>
        <select
          className={look}
          value={findingKind ?? ''}
          onChange={(event) =>
            dispatch(
              checksActions.findingKindChosen(event.target.value === '' ? null : (event.target.value as FindingKind)),
            )
          }
        >
          <option value="">All kinds · {inPart.length}</option>
          {FINDING_KINDS.map((kind) => {
            const count = inPart.filter((f) => f.kind === kind).length;
            return count > 0 || kind === findingKind ? (
              <option key={kind} value={kind}>
                {checkOf(kind).name} · {count}
              </option>
            ) : null;
          })}
        </select>
      </label>
    </div>
  );
};

const KindGroup = ({
  kind,
  items,
  context,
}: {
  kind: FindingKind;
  items: readonly Finding[];
  context: CommandContext;
}) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const { name, explanation } = checkOf(kind);
  const mendable = items.filter((finding) => finding.mend);
  const changes = [...new Set(mendable.map((finding) => finding.mend && mendChanges(finding.mend)))].join(' and ');
  return (
    <section aria-label={name} className="border-b border-strong">
      <header className="flex items-center gap-2 bg-shade px-3 py-1" title={explanation}>
        <h3 className="min-w-0 flex-1 font-serif text-base leading-tight">
          {name} <span className="text-soft">· {items.length}</span>
        </h3>
        {mendable.length > 1 && (
          <Button
            title={`Mend all of these (${changes}): ${explanation}`}
            onClick={() => dispatch(mend(mendable))}
            className="!px-1.5"
          >
            Mend all · {mendable.length}
          </Button>
        )}
        {items.length > 1 && (
          <Button
            look="quiet"
            className="!px-1.5"
            aria-label={`Dismiss all: ${name}`}
            title="They are meant: take all of this kind off the list for good"
            hint={keyOf('dismissKind')}
            onClick={() => dispatch(dismiss(items))}
          >
            Dismiss all
          </Button>
        )}
      </header>
      <ul>
        {items.slice(0, MOST_SHOWN).map((finding) => (
          <Item key={`${finding.partId} ${finding.key}`} finding={finding} context={context} />
        ))}
      </ul>
      {items.length > MOST_SHOWN && (
        <p className="px-3 py-1 text-soft">and {counted(items.length - MOST_SHOWN, 'more', 'more')} later on</p>
      )}
    </section>
  );
};

const MEND_HINTS: Readonly<Record<Mend['where'], string>> = {
  notes: 'Changes Played; it can be undone',
  plan: 'Changes the plan; Played stays',
  bars: 'Changes the plan for these bars; Played stays',
  barLines: 'Moves the bar lines; every note stays where it is. The roll shows where they will stand',
  tempo: 'The bars move under the notes: each note sounds when it did. The roll shows where bars will begin',
  page: 'Corrects the page alone; the correction outlives another run of the plan',
};

/** A mend with, on its face, what it changes. */
const MendButton = ({ mend: { label, where }, hint, onMend }: { mend: Mend; hint?: string; onMend: () => void }) => (
  <Button look="main" className="min-h-10 flex-col !gap-0.5" title={MEND_HINTS[where]} hint={hint} onClick={onMend}>
    {label}
    <span className="text-xs opacity-85">{mendChanges({ where })}</span>
  </Button>
);

const Item = ({ finding, context }: { finding: Finding; context: CommandContext }) => {
  const keyOf = useKeyOf();
  const arrangement = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const chosenFinding = useAppSelector(({ checks }) => checks.chosenFinding);
  const line = useRef<HTMLLIElement>(null);
  const chosen = chosenFinding?.key === finding.key && chosenFinding.partId === finding.partId;
  const part = arrangement.parts.find((candidate) => candidate.id === finding.partId);
  const { bar, beat } = barPosition(meterMap, arrangement.ppq, finding.tick);
  useEffect(() => {
    if (chosen) line.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  return (
    <li ref={line} className={`border-t border-rule ${chosen ? 'bg-selected' : ''}`} aria-current={chosen || undefined}>
      <button
        type="button"
        className="w-full px-3 py-1 text-left hover:underline"
        onClick={() => goToFinding(context, finding)}
      >
        <span className="text-soft">
          {part?.name}, bar {bar} beat {beat}
        </span>
        <br />
        {finding.reason}
      </button>
      {chosen && (
        <div className="flex flex-wrap gap-1 px-3 pb-2">
          {finding.mend && (
            <MendButton
              mend={finding.mend}
              hint={keyOf('mendFinding')}
              onMend={() => thenToNext(context, mend([finding]))}
            />
          )}
          {finding.otherMend && (
            <MendButton
              mend={finding.otherMend}
              hint={keyOf('otherMend')}
              onMend={() => thenToNext(context, mend([withOtherMend(finding)]))}
            />
          )}
          <Button title="Play the bars around it" hint={keyOf('playAround')} onClick={() => playAround(context)}>
            Hear it
          </Button>
          <Button
            title="It is meant: take it off this list for good"
            hint={keyOf('dismissFinding')}
            onClick={() => thenToNext(context, dismiss([finding], finding.reason))}
          >
            Dismiss
          </Button>
          <span className="w-full text-soft">{SEVERITY_WORDS[finding.severity]}</span>
        </div>
      )}
    </li>
  );
};
