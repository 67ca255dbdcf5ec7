/** Split evenly: one note into equal repeats. */

import { inOrder, splitMuted } from '../reading/noteGroups.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { lengthInTicks, noteValue } from '../time/noteLengths.js';
import { ticks } from '../time/units.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** Pieces keep pitch and velocity; the last takes what is left. */
export const splitEvenly: Step<'splitEvenly'> = {
  id: 'splitEvenly',
  name: 'Split evenly',
  explanation: 'Cuts notes into repeats of one length, or once at that distance. Shorter notes stay.',
  defaults: { value: noteValue(1 / 8), once: false },
  fields: {
    value: { kind: 'length', label: 'Length of each' },
    once: { kind: 'switch', label: 'One cut only' },
  },
  once: true,
  sees: 'selected',
  run: (notes, context, { value, once }) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const result: StepNote[] = [];
    for (const note of active) {
      const unit = Math.round(lengthInTicks(value, context.ppq, context.tempoMap.ticksPerMillisecond(note.onset)));
      if (unit < 1 || note.duration <= unit * 1.001) {
        result.push(note);
        continue;
      }
      const pieces = once ? 2 : Math.ceil(note.duration / unit - 0.001);
      const first = placed(note, note.onset, unit);
      changes.push({ noteId: note.id, from: note, to: first, reason: `cut into ${pieces}` });
      result.push(first);
      for (let piece = 1; piece < pieces; piece += 1) {
        const start = note.onset + piece * unit;
        const end = piece === pieces - 1 ? note.onset + note.duration : start + unit;
        result.push({
          ...placed(note, start, end - start),
          id: context.newId(note.id),
          onset: ticks(start),
          madeFrom: note.madeFrom ?? note.id,
        });
      }
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes };
  },
};
