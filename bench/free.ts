/** Measures takes with no click, or another than their file says; prints a table, and writes it as JSON where a file is named. */
import { writeFileSync } from 'node:fs';
import { FREE_KINDS, measureFree, tempoMisfit } from '@crispfold/core';

const [seedText = '9000', countText = '60', output = ''] = process.argv.slice(2);
const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / Math.max(1, values.length);

const rows = FREE_KINDS.map(({ name, asked, sample, onClick }) => {
  const all = Array.from({ length: Number(countText) }, (_, index) => {
    const own = sample(Number(seedText), index);
    return { ...measureFree(own), raised: tempoMisfit(own.arrangement) !== null };
  });
  const over = (of: (one: (typeof all)[number]) => (typeof all)[number]['asFile']) => ({
    noteF1: mean(all.map((one) => of(one).noteF1)),
    exactDurations: mean(all.map((one) => of(one).exactDurations)),
    exactBars: mean(all.map((one) => of(one).exactBars)),
  });
  const row = {
    name,
    asked,
    onClick: onClick === true,
    asFile: over(({ asFile }) => asFile),
    fromTake: over(({ fromTake }) => fromTake),
    raised: mean(all.map(({ raised }) => Number(raised))),
  };
  process.stdout.write(`${JSON.stringify(row)}\n`);
  return row;
});
if (output) writeFileSync(output, JSON.stringify(rows));
