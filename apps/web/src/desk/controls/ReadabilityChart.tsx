/** How much there is to read in each bar of the front part, before and after its plan; a click goes to the bar. */

import {
  type BarMend,
  type BarReadability,
  hardestBars,
  meanReadability,
  type Part,
  type PartId,
  planEdit,
} from '@crispfold/core';
import { useEffect, useState } from 'react';
import { Bar, BarChart, CartesianGrid, Legend, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { Button } from '../../ui/Button.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { commit } from '../session/saving.js';
import { useRevision } from '../session/useWritten.js';

/** So many of the hardest bars are listed. */
const LISTED = 5;

const useReadability = (partId: PartId): readonly BarReadability[] => {
  const { engine } = useDesk();
  const revision = useRevision();
  const [bars, setBars] = useState<readonly BarReadability[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed arrangement reads otherwise
  useEffect(() => {
    let current = true;
    engine.ask('readability', { partId }).then(
      (found) => current && setBars(found.bars),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [partId, revision]);
  return bars;
};

/** What would make the hard bars easier, bar by bar. */
const useMends = (partId: PartId, hardest: readonly BarReadability[]): ReadonlyMap<number, BarMend> => {
  const { engine } = useDesk();
  const [mends, setMends] = useState<ReadonlyMap<number, BarMend>>(new Map());
  const revision = useRevision();
  const key = hardest.map(({ bar }) => bar).join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed arrangement has other mends
  useEffect(() => {
    let current = true;
    setMends(new Map());
    if (key === '') return undefined;
    engine.ask('barMends', { partId, bars: key.split(',').map(Number) }).then(
      (found) => current && setMends(new Map(found.mends.map((mend) => [mend.bar, mend]))),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [partId, revision, key]);
  return mends;
};

/** Weighted signs in each bar, two ways side by side. */
export const SignsChart = ({
  data,
  names,
  onBar,
}: {
  data: readonly { readonly bar: number; readonly before: number | null; readonly after: number }[];
  names: readonly [before: string, after: string];
  onBar: (bar: number) => void;
}) => (
  <figure role="img" aria-label={`Weighted signs in each bar, ${names.join(' and ')}.`} className="h-44 cursor-pointer">
    <ResponsiveContainer>
      <BarChart
        data={[...data]}
        margin={{ left: -26, right: 4, top: 4 }}
        barGap={0}
        barCategoryGap={1}
        accessibilityLayer={false}
        onClick={({ activeLabel }) => activeLabel !== undefined && onBar(Number(activeLabel))}
      >
        <CartesianGrid vertical={false} stroke="var(--rule)" />
        <XAxis
          dataKey="bar"
          tick={{ fill: 'var(--ink-soft)', fontSize: 12 }}
          stroke="var(--rule-strong)"
          minTickGap={16}
        />
        <YAxis allowDecimals={false} tick={{ fill: 'var(--ink-soft)', fontSize: 12 }} stroke="var(--rule-strong)" />
        <Tooltip
          contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--rule-strong)' }}
          cursor={{ fill: 'var(--selected)', opacity: 0.4 }}
          labelFormatter={(bar) => `bar ${bar}`}
          formatter={(value) => Math.round(Number(value) * 10) / 10}
        />
        <Legend wrapperStyle={{ fontSize: 13 }} />
        <Bar dataKey="before" name={names[0]} fill="var(--ink-soft)" isAnimationActive={false} />
        <Bar dataKey="after" name={names[1]} fill="var(--fold)" isAnimationActive={false} />
      </BarChart>
    </ResponsiveContainer>
  </figure>
);

export const ReadabilityChart = ({ part, goToBar }: { part: Part; goToBar: (bar: number) => void }) => {
  const { id: partId, name } = part;
  const dispatch = useAppDispatch();
  const bars = useReadability(partId);
  const mean = meanReadability(bars);
  const hardest = hardestBars(bars, LISTED);
  const mends = useMends(partId, hardest);
  if (!mean) return null;
  const take = ({ bar, plan, grid }: BarMend) =>
    dispatch(commit(planEdit(part, plan, `Plan of ${name}: bar ${bar} on a grid of ${grid.toLowerCase()}s`)));
  return (
    <>
      <h3 className="mt-2 border-t border-rule pt-2 font-serif text-base">{name}: signs to read</h3>
      <p className="text-soft">
        {mean.after} in a bar as written; {mean.before} as played, in thirty-seconds. Click a bar to go there.
      </p>
      <SignsChart data={bars} names={['as played', 'as written']} onBar={goToBar} />
      {hardest.length > 0 && (
        <ul aria-label="Bars that are hard to read">
          {hardest.map(({ bar, hard }) => (
            <li key={bar}>
              <Button look="quiet" className="!px-1" title="Go to this bar" onClick={() => goToBar(bar)}>
                bar {bar}
              </Button>{' '}
              <span className="text-soft">{hard}</span>
              {mends.has(bar) && <MendButton mend={mends.get(bar) as BarMend} onTake={take} />}
            </li>
          ))}
        </ul>
      )}
    </>
  );
};

const MendButton = ({ mend, onTake }: { mend: BarMend; onTake: (mend: BarMend) => void }) => {
  const { grid, saved, furthest } = mend;
  return (
    <Button
      look="quiet"
      className="!px-1"
      title={`No start is written further than ${Math.round(furthest)} ms from where it was played`}
      onClick={() => onTake(mend)}
    >
      On a grid of {grid.toLowerCase()}s: {Math.round(saved)} signs fewer
    </Button>
  );
};
