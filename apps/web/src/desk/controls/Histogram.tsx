/** How many values lie where, before and after something, side by side. */
import { Bar, BarChart, CartesianGrid, Legend, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';

/** So many values lie about a place. */
export interface Bin {
  readonly at: number;
  readonly before: number;
  readonly after: number | undefined;
}

/** Counts values in steps of `step` from `low` to `high`; what lies beyond goes to the ends. */
export const binned = (values: readonly number[], low: number, high: number, step: number): number[] => {
  const counts = Array<number>(Math.round((high - low) / step) + 1).fill(0);
  for (const value of values) {
    const bin = Math.round((Math.max(low, Math.min(high, value)) - low) / step);
    counts[bin] = (counts[bin] as number) + 1;
  }
  return counts;
};

const VELOCITY_STEP = 8;

/** How many notes have about each velocity, before and after. */
export const velocityBins = (
  before: readonly { readonly velocity: number }[],
  after: readonly { readonly velocity: number }[],
): Bin[] => {
  const of = (notes: readonly { readonly velocity: number }[]) =>
    binned(
      notes.map((note) => note.velocity),
      0,
      128,
      VELOCITY_STEP,
    );
  const then = of(after);
  return of(before).map((count, bin) => ({ at: bin * VELOCITY_STEP, before: count, after: then[bin] }));
};

export const Histogram = ({
  data,
  unit = '',
  label,
  before = 'as played',
  after = 'as written',
}: {
  data: readonly Bin[];
  unit?: string;
  label: string;
  /** What the two are. */
  before?: string;
  after?: string;
}) => (
  <figure role="img" aria-label={label} className="h-44">
    <ResponsiveContainer>
      <BarChart
        data={[...data]}
        margin={{ left: -26, right: 4, top: 4 }}
        barGap={0}
        barCategoryGap={1}
        accessibilityLayer={false}
      >
        <CartesianGrid vertical={false} stroke="var(--rule)" />
        <XAxis
          dataKey="at"
          unit={unit}
          tick={{ fill: 'var(--ink-soft)', fontSize: 12 }}
          stroke="var(--rule-strong)"
          minTickGap={16}
        />
        <YAxis allowDecimals={false} tick={{ fill: 'var(--ink-soft)', fontSize: 12 }} stroke="var(--rule-strong)" />
        <Tooltip
          contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--rule-strong)' }}
          cursor={{ fill: 'var(--selected)', opacity: 0.4 }}
        />
        <Legend wrapperStyle={{ fontSize: 13 }} />
        <Bar dataKey="before" name={before} fill="var(--ink-soft)" isAnimationActive={false} />
        <Bar dataKey="after" name={after} fill="var(--fold)" isAnimationActive={false} />
      </BarChart>
    </ResponsiveContainer>
  </figure>
);
