/** Shortest duration: raises or drops notes below a length. */

import { endOf } from '../model/arrangement.js';
import { splitMuted, withChanges } from '../reading/noteGroups.js';
import { pitchName } from '../reading/noteWords.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { isUntouched } from '../reading/untouched.js';
import { lengthInTicks, noteValue } from '../time/noteLengths.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** Lengthening stops at the next start, so that a run of real short notes stays a run. */
export const shortestDuration: Step<'shortestDuration'> = {
  id: 'shortestDuration',
  name: 'Shortest duration',
  explanation: 'Lengthens notes below the length as far as there is room. Runs of short notes that leave no room stay.',
  defaults: { atLeast: noteValue(1 / 16), action: 'lengthen', stopAt: 'anyPitch' },
  fields: {
    atLeast: { kind: 'length', label: 'At least' },
    action: {
      kind: 'choice',
      label: 'Shorter notes are',
      choices: [
        { value: 'lengthen', label: 'lengthened' },
        { value: 'remove', label: 'taken out' },
      ],
    },
    stopAt: {
      kind: 'choice',
      label: 'Stop at',
      choices: [
        { value: 'samePitch', label: 'the next of its pitch' },
        { value: 'anyPitch', label: 'any next start' },
      ],
    },
  },
  once: true,
  sees: 'part',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    // Lengths that were settled as an untouched part says them are meant.
    if (active[0]?.settled && isUntouched(active, context)) return unchanged(notes);
    const changes: StepChange[] = [];
    const nextOfPitch = new Map<number, number>();
    let nextOnset = Number.POSITIVE_INFINITY;
    let currentOnset = Number.POSITIVE_INFINITY;
    for (let index = active.length - 1; index >= 0; index -= 1) {
      const note = active[index] as StepNote;
      if (note.onset < currentOnset) {
        nextOnset = currentOnset;
        currentOnset = note.onset;
      }
      const stop =
        parameters.stopAt === 'samePitch' ? (nextOfPitch.get(note.pitch) ?? Number.POSITIVE_INFINITY) : nextOnset;
      nextOfPitch.set(note.pitch, note.onset);
      const perMs = context.tempoMap.ticksPerMillisecond(note.onset);
      const least = Math.round(lengthInTicks(parameters.atLeast, context.ppq, perMs));
      if (note.duration >= least) continue;
      if (parameters.action === 'remove') {
        changes.push({
          noteId: note.id,
          from: note,
          to: null,
          reason: `a ${pitchName(note.pitch)} shorter than the shortest allowed`,
        });
        continue;
      }
      const end = Math.max(endOf(note), Math.min(note.onset + least, stop));
      if (end === endOf(note)) continue;
      const to = placed(note, note.onset, end - note.onset);
      changes.push({ noteId: note.id, from: note, to, reason: 'shorter than the shortest allowed' });
    }
    changes.reverse();
    return changes.length === 0 ? unchanged(notes) : { notes: withChanges(active, muted, changes), changes };
  },
};
