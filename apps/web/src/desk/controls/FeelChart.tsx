/** The feel that a part has, at each place in its bar: how late, and how much louder. */
import type { KeptFeel } from '@crispfold/core';
import { useMemo } from 'react';
import {
  Bar,
  BarChart,
  CartesianGrid,
  Legend,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';

const INK = { fill: 'var(--ink-soft)', fontSize: 12 };

const FeelChart = ({ feel: { name, places } }: { feel: KeptFeel }) => {
  const data = useMemo(() => places.map((place) => ({ ...place, place: String(place.sixteenth / 4 + 1) })), [places]);
  return (
    <figure
      role="img"
      aria-label={`The feel of ${name}: at each beat of the bar, milliseconds late (early below the line) and steps of velocity louder.`}
      className="h-44"
    >
      <ResponsiveContainer>
        <BarChart data={data} margin={{ left: -26, right: 4, top: 4 }} barGap={0} accessibilityLayer={false}>
          <CartesianGrid vertical={false} stroke="var(--rule)" />
          <XAxis dataKey="place" tick={INK} stroke="var(--rule-strong)" minTickGap={12} />
          <YAxis tick={INK} stroke="var(--rule-strong)" />
          <ReferenceLine y={0} stroke="var(--rule-strong)" />
          <Tooltip
            contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--rule-strong)' }}
            cursor={{ fill: 'var(--selected)', opacity: 0.4 }}
          />
          <Legend wrapperStyle={{ fontSize: 13 }} />
          <Bar dataKey="late" name="late (ms)" fill="var(--fold)" isAnimationActive={false} />
          <Bar dataKey="louder" name="louder" fill="var(--ink-soft)" isAnimationActive={false} />
        </BarChart>
      </ResponsiveContainer>
    </figure>
  );
};

export default FeelChart;
