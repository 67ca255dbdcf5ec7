/** Two plans of a part side by side: the page and the signs to read of each; one of them is chosen. */

import { type BarReadability, meanReadability, type Part, type Plan } from '@crispfold/core';
import { useEffect, useMemo, useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { Dialog } from '../../../ui/Dialog.js';
import { counted } from '../../../ui/words.js';
import { SignsChart } from '../../controls/ReadabilityChart.js';
import { useDesk } from '../../session/desk.js';
import { useRevision } from '../../session/useWritten.js';
import { selectBars } from '../../state/maps.js';
import { selectView } from '../../state/rollSelectors.js';
import { tickOfX } from '../../state/rollView.js';
import { useAppSelector } from '../../state/root.js';

/** A plan by the name that it is offered under. */
export type NamedPlan = readonly [name: string, plan: Plan];

/** So many bars of the page are shown. */
const BARS = 6;

interface Tried {
  readonly svg: string;
  readonly notes: number;
  readonly bars: readonly BarReadability[];
}

/** The part as a plan would write it, from a bar (from 1) on; null while it is being made. */
const useTried = (part: Part, plan: Plan, from: number): Tried | null => {
  const { engine } = useDesk();
  const revision = useRevision();
  const [tried, setTried] = useState<Tried | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed arrangement is written otherwise
  useEffect(() => {
    let over = false;
    setTried(null);
    engine.ask('planTried', { partId: part.id, plan, firstBar: from, lastBar: from + BARS - 1 }).then(
      (answer) => !over && setTried(answer),
      () => undefined,
    );
    return () => {
      over = true;
    };
  }, [part.id, plan, from, revision]);
  return tried;
};

const Side = ({
  label,
  plans,
  chosen,
  onChoose,
  tried,
  current,
  onTake,
}: {
  label: string;
  plans: readonly NamedPlan[];
  chosen: number;
  onChoose: (index: number) => void;
  tried: Tried | null;
  current: boolean;
  onTake: () => void;
}) => {
  const mean = tried && meanReadability(tried.bars);
  return (
    <section aria-label={label} className="mb-3 border border-rule">
      <header className="flex flex-wrap items-center gap-3 bg-desk px-3 py-1">
        <select
          aria-label={label}
          className="min-h-8 border border-strong bg-sheet px-1"
          value={chosen}
          onChange={(event) => onChoose(Number(event.target.value))}
        >
          {plans.map(([name], index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: two plans may have one name
            <option key={index} value={index}>
              {name}
            </option>
          ))}
        </select>
        <span className="text-soft">
          {tried
            ? `${counted(tried.notes, 'note')} written${mean ? `, ${mean.after} signs in a bar` : ''}`
            : 'being written…'}
        </span>
        <Button className="ml-auto" disabled={current} onClick={onTake}>
          {current ? 'The part’s plan now' : 'Take this plan'}
        </Button>
      </header>
      <div
        className="engraved h-36 overflow-x-auto p-1 [&_svg]:h-full [&_svg]:w-auto"
        // biome-ignore lint/security/noDangerouslySetInnerHtml: the picture comes from our own engraver
        dangerouslySetInnerHTML={{ __html: tried?.svg ?? '' }}
      />
    </section>
  );
};

const Comparison = ({
  part,
  plans,
  now,
  onTake,
}: {
  part: Part;
  plans: readonly NamedPlan[];
  /** The place of the part's plan among them. */
  now: number;
  onTake: (index: number) => void;
}) => {
  const view = useAppSelector(selectView);
  const allBars = useAppSelector(selectBars);
  const [left, setLeft] = useState(now);
  const [right, setRight] = useState(now === 0 ? 1 : 0);
  const [from, setFrom] = useState(
    () => (allBars.find((bar) => bar.end > view.left + 1 && bar.start < tickOfX(view, view.width))?.index ?? 0) + 1,
  );
  const first = useTried(part, (plans[left] as NamedPlan)[1], from);
  const second = useTried(part, (plans[right] as NamedPlan)[1], from);
  const data = useMemo(() => {
    const other = new Map(second?.bars.map(({ bar, after }) => [bar, after]));
    return (first?.bars ?? []).map(({ bar, after }) => ({ bar, before: after, after: other.get(bar) ?? 0 }));
  }, [first, second]);
  const side = (label: string, index: number, choose: (index: number) => void, tried: Tried | null) => (
    <Side
      label={label}
      plans={plans}
      chosen={index}
      onChoose={choose}
      tried={tried}
      current={index === now}
      onTake={() => onTake(index)}
    />
  );
  return (
    <div className="text-sm">
      {side('One plan', left, setLeft, first)}
      {side('Another plan', right, setRight, second)}
      <SignsChart
        data={data}
        names={[(plans[left] as NamedPlan)[0], (plans[right] as NamedPlan)[0]]}
        onBar={(bar) => setFrom(Math.max(1, (allBars.find(({ number }) => number === bar)?.index ?? 0) + 1))}
      />
      <p className="text-soft">Signs to read in each bar. Click a bar to see its page under both plans.</p>
    </div>
  );
};

export const ComparePlans = ({
  open,
  onOpenChange,
  ...comparison
}: { open: boolean; onOpenChange: (open: boolean) => void } & Parameters<typeof Comparison>[0]) => (
  <Dialog
    open={open}
    onOpenChange={onOpenChange}
    title={`Two plans for ${comparison.part.name}`}
    description="The same bars written both ways. Nothing changes until you take one."
    wide
  >
    <Comparison {...comparison} />
  </Dialog>
);
