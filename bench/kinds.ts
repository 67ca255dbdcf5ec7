/** Measures the default plan on other kinds of music and playing; prints a table, and writes it as JSON where a file is named. */
import { writeFileSync } from 'node:fs';
import { ACCURACY_KINDS, type KindMeasured, measureKind } from '@crispfold/core';

const [seedText = '9000', countText = '60', output = '', only = '', verbose = ''] = process.argv.slice(2);
const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / Math.max(1, values.length);
const three = (a: { noteF1: number; exactDurations: number; exactBars: number }) =>
  [a.noteF1, a.exactDurations, a.exactBars].map((v) => v.toFixed(3)).join(' / ');

const rows = ACCURACY_KINDS.filter(({ name }) => name.includes(only)).map(({ name, asked, askedStaff, sample }) => {
  const all: KindMeasured[] = Array.from({ length: Number(countText) }, (_, index) =>
    measureKind(sample(Number(seedText), index)),
  );
  const plan = {
    noteF1: mean(all.map((m) => m.plan.noteF1)),
    exactDurations: mean(all.map((m) => m.plan.exactDurations)),
    exactBars: mean(all.map((m) => m.plan.exactBars)),
  };
  const staves = all.flatMap(({ staff }) => (staff === null ? [] : [staff]));
  const staff = staves.length > 0 ? mean(staves) : null;
  const lost = all.reduce((sum, m) => sum + m.lost, 0) / all.reduce((sum, m) => sum + m.notes, 0);
  process.stdout.write(
    `${name.padEnd(42)} ${three(plan)}   asked ${asked.join(' / ')}   ${staff === null ? '' : `staff ${staff.toFixed(3)} of ${askedStaff}   `}lost ${(lost * 100).toFixed(2)} %\n`,
  );
  const worst = [...all].sort((a, b) => a.plan.exactBars - b.plan.exactBars).slice(0, verbose ? 14 : 3);
  if (verbose) {
    for (const { title, plan: own, staff: at } of worst) {
      process.stdout.write(
        `    ${title.padEnd(38)} ${three(own)} ${at?.toFixed(2) ?? ''} bars ${own.wrongBars.join(' ')}\n`,
      );
    }
  }
  return {
    name,
    asked,
    askedStaff,
    plan,
    staff,
    lost,
    worst: worst.map(({ title, plan: own }) => ({ title, ...own })),
  };
});
if (output) writeFileSync(output, JSON.stringify(rows));
