/** Measures the default plan on made scores; prints a table, and writes it as JSON where a file is named. */
import { writeFileSync } from 'node:fs';
import { ACCURACY_CASES, measure } from '@crispfold/core';

const [seedText = '9000', countText = '50', output = '', only = '', verbose = ''] = process.argv.slice(2);
const seed = Number(seedText);
const count = Number(countText);
const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / Math.max(1, values.length);
const three = (a: { noteF1: number; exactDurations: number; exactBars: number }) =>
  [a.noteF1, a.exactDurations, a.exactBars].map((v) => v.toFixed(3)).join(' / ');

const rows = ACCURACY_CASES.filter((row) => row.name.includes(only)).map((row) => {
  const all = Array.from({ length: count }, (_, index) => measure(row, seed, index));
  const averaged = (of: (m: (typeof all)[0]) => (typeof all)[0]['plan']) => ({
    noteF1: mean(all.map((m) => of(m).noteF1)),
    exactDurations: mean(all.map((m) => of(m).exactDurations)),
    exactBars: mean(all.map((m) => of(m).exactBars)),
  });
  const plan = averaged((m) => m.plan);
  const byHand = averaged((m) => m.byHand);
  const lost = all.reduce((sum, m) => sum + m.lost, 0) / all.reduce((sum, m) => sum + m.notes, 0);
  process.stdout.write(
    `${row.name.padEnd(38)} by hand ${three(byHand)}   plan ${three(plan)}   asked ${row.required.join(' / ')}   lost ${(lost * 100).toFixed(3)} %\n`,
  );
  const groups = new Map<string, typeof all>();
  for (const m of all) {
    const key = `${m.recipe.kind} ${m.recipe.meter.numerator}/${m.recipe.meter.denominator} ${m.recipe.style}`;
    groups.set(key, [...(groups.get(key) ?? []), m]);
  }
  const byKind = [...groups].map(([what, list]) => ({
    what,
    noteF1: mean(list.map((m) => m.plan.noteF1)),
    exactDurations: mean(list.map((m) => m.plan.exactDurations)),
    exactBars: mean(list.map((m) => m.plan.exactBars)),
  }));
  if (verbose) for (const item of byKind) process.stdout.write(`    ${item.what.padEnd(30)} ${three(item)}\n`);
  const worst = byKind
    .filter((item) => item.exactBars < 1)
    .sort((x, y) => x.exactBars - y.exactBars)
    .slice(0, 2);
  return { name: row.name, required: row.required, plan, byHand, lost, worst };
});
if (output) writeFileSync(output, JSON.stringify(rows));
