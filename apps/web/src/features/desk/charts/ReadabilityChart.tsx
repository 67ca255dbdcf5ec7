/** How much there is to read in each bar of the front part, before and after its plan; a click goes to the bar. */
import { type BarReadability, hardestBars, meanReadability, type PartId } from '@crispfold/core';
import { useEffect, useState } from 'react';
import { Bar, BarChart, CartesianGrid, Legend, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { askWorker } from '../../../engine/engine.js';
import { Button } from '../../../ui/Button.js';
import { useRevision } from '../useWritten.js';

/** So many of the hardest bars are listed. */
const LISTED = 5;

const useReadability = (partId: PartId): readonly BarReadability[] => {
  const revision = useRevision();
  const [bars, setBars] = useState<readonly BarReadability[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed arrangement reads otherwise
  useEffect(() => {
    let current = true;
    askWorker('readability', { partId }).then(
      (found) => current && setBars(found.bars),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [partId, revision]);
  return bars;
};

export const ReadabilityChart = ({
  partId,
  name,
  goToBar,
}: {
  partId: PartId;
  name: string;
  goToBar: (bar: number) => void;
}) => {
  const bars = useReadability(partId);
  const mean = meanReadability(bars);
  const hardest = hardestBars(bars, LISTED);
  if (!mean) return null;
  const goTo = (label: string | number | undefined) => {
    if (label !== undefined) goToBar(Number(label));
  };
  return (
    <>
      <h3 className="mt-2 border-t border-rule pt-2 font-serif text-base">{name}: signs to read</h3>
      <p className="text-soft">
        {mean.after} in a bar as written; {mean.before} as played, in thirty-seconds. Click a bar to go there.
      </p>
      <figure
        role="img"
        aria-label="Weighted signs in each bar, before and after the plan."
        className="h-44 cursor-pointer"
      >
        <ResponsiveContainer>
          <BarChart
            data={[...bars]}
            margin={{ left: -26, right: 4, top: 4 }}
            barGap={0}
            barCategoryGap={1}
            accessibilityLayer={false}
            onClick={({ activeLabel }) => goTo(activeLabel)}
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
            <Bar dataKey="before" name="as played" fill="var(--ink-soft)" isAnimationActive={false} />
            <Bar dataKey="after" name="as written" fill="var(--fold)" isAnimationActive={false} />
          </BarChart>
        </ResponsiveContainer>
      </figure>
      {hardest.length > 0 && (
        <ul aria-label="Bars that are hard to read">
          {hardest.map(({ bar, hard }) => (
            <li key={bar}>
              <Button look="quiet" className="!px-1" title="Go to this bar" onClick={() => goToBar(bar)}>
                bar {bar}
              </Button>{' '}
              <span className="text-soft">{hard}</span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
};
