/** Quantize ends: moves ends to a grid. */

import { endOf } from '../model/arrangement.js';
import { GRIDS, nearestGridPoint } from '../reading/grids.js';
import { placed } from '../reading/stepNote.js';
import { eachNote, type Step } from './step.js';

/** An end never comes nearer to its start than one unit of the grid. */
export const quantizeEnds: Step<'quantizeEnds'> = {
  id: 'quantizeEnds',
  name: 'Quantize ends',
  explanation: 'Moves ends to a grid. Starts stay; no note gets shorter than one unit of the grid.',
  defaults: { grid: 1 / 16, strength: 100 },
  fields: {
    grid: {
      kind: 'choice',
      label: 'Grid',
      choices: GRIDS.filter(({ grid }) => grid !== 'auto').map(({ grid, name }) => ({ value: grid, label: name })),
    },
    strength: { kind: 'number', label: 'Strength', min: 0, max: 100, unit: '%' },
  },
  once: true,
  sees: 'selected',
  run: (notes, context, { grid, strength }) => {
    const unit = grid * 4 * context.ppq;
    return eachNote(notes, (note) => {
      const end = endOf(note);
      let point = Math.round(nearestGridPoint(end, context, unit, 50));
      for (let tries = 0; tries < 4 && point < note.onset + unit; tries += 1) {
        point = Math.round(nearestGridPoint(point + unit, context, unit, 50));
      }
      const moved = Math.round(end + ((point - end) * strength) / 100);
      if (moved === end || moved <= note.onset) return null;
      return { to: placed(note, note.onset, moved - note.onset), reason: `its end goes to the grid` };
    });
  },
};
