/** Drop specks: takes out notes too short to be meant. */

import { inOrder, splitMuted } from '../reading/noteGroups.js';
import { aNote, inMilliseconds } from '../reading/noteWords.js';
import type { StepNote } from '../reading/stepNote.js';
import { isUntouched } from '../reading/untouched.js';
import { milliseconds, noteValue, shortestOf } from '../time/noteLengths.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** So few short notes are never a way of playing. */
const FEW = 3;

/** Notes of no length always go. */
export const dropSpecks: Step<'dropSpecks'> = {
  id: 'dropSpecks',
  name: 'Drop specks',
  explanation: 'Takes out notes too short to be meant, judged after the pedal. Everything longer stays.',
  defaults: { shorterThan: [noteValue(1 / 64), milliseconds(40)], softerThan: null, unlessMoreThan: 8 },
  fields: {
    shorterThan: { kind: 'lengths', label: 'Shorter than' },
    softerThan: { kind: 'number', label: 'And softer than', min: 1, max: 127, none: 'any loudness', of: 'velocity' },
    unlessMoreThan: {
      kind: 'number',
      label: 'Unless they are more than',
      min: 1,
      max: 100,
      unit: '%',
      none: 'however many',
    },
  },
  once: true,
  sees: 'part',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const kept: StepNote[] = [];
    const limit = shortestOf(parameters.shorterThan, context.ppq);
    const isSpeck = (note: StepNote): boolean => {
      const perMs = context.tempoMap.ticksPerMillisecond(note.onset);
      return note.duration < limit(perMs) && (parameters.softerThan === null || note.velocity < parameters.softerThan);
    };
    const { unlessMoreThan } = parameters;
    const count = active.filter((note) => note.duration > 0 && isSpeck(note)).length;
    const asMany = unlessMoreThan !== null && count > FEW && count * 100 > active.length * unlessMoreThan;
    const theWayItIsPlayed = asMany || (count > 0 && isUntouched(active, context));
    for (const note of active) {
      if (note.duration <= 0) {
        changes.push({ noteId: note.id, from: note, to: null, reason: `${aNote(note.pitch, context)} with no length` });
      } else if (!theWayItIsPlayed && isSpeck(note)) {
        const reason = `${aNote(note.pitch, context)} of only ${inMilliseconds(note.duration, note.onset, context)}`;
        changes.push({ noteId: note.id, from: note, to: null, reason });
      } else kept.push(note);
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(kept, muted), changes };
  },
};
