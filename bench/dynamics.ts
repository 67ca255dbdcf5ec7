/** Measures how the dynamics of made performances are read; prints a table, and writes it as JSON where a file is named. */
import { writeFileSync } from 'node:fs';
import { DYNAMIC_KINDS, measureDynamics } from '@crispfold/core';

const [seedText = '9000', countText = '60', output = '', only = ''] = process.argv.slice(2);

const rows = DYNAMIC_KINDS.filter(({ name }) => name.includes(only)).map(({ name, sample }) => {
  const all = Array.from({ length: Number(countText) }, (_, index) => measureDynamics(sample(Number(seedText), index)));
  const sum = (of: (one: (typeof all)[0]) => number) => all.reduce((total, one) => total + of(one), 0);
  const share = (part: number, whole: number) => (whole === 0 ? null : part / whole);
  const row = {
    name,
    right: share(
      sum((m) => m.right),
      sum((m) => m.marks),
    ),
    wrongIn16: (16 * sum((m) => m.wrong)) / sum((m) => m.bars),
    swells: share(
      sum((m) => m.swellsRight),
      sum((m) => m.swells),
    ),
    swellsWrongIn16: (16 * sum((m) => m.swellsWrong)) / sum((m) => m.bars),
  };
  const percent = (value: number | null) => (value === null ? '–' : `${(value * 100).toFixed(1)} %`);
  process.stdout.write(
    `${name.padEnd(44)} levels ${percent(row.right)}  false ${row.wrongIn16.toFixed(2)} in 16 bars   hairpins ${percent(row.swells)}  false ${row.swellsWrongIn16.toFixed(2)}\n`,
  );
  return row;
});
if (output) writeFileSync(output, JSON.stringify(rows));
