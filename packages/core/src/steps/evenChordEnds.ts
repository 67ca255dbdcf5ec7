/** Even chord ends: chord tones end together. */

import { endOf } from '../model/arrangement.js';
import type { EvenChordEndsParameters } from '../model/stepParameters.js';
import { inOrder, splitMuted } from '../reading/noteGroups.js';
import { CHORD_WINDOW, startGroups } from '../reading/startGroups.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { lengthInTicks } from '../time/noteLengths.js';
import { type Step, type StepChange, unchanged } from './step.js';

const endFor = (chord: readonly StepNote[], to: EvenChordEndsParameters['to']): number => {
  const ends = chord.map(endOf).sort((a, b) => a - b);
  if (to === 'longest') return ends[ends.length - 1] as number;
  if (to === 'median') return ends[ends.length >> 1] as number;
  return endOf(chord.reduce((low, note) => (note.pitch < low.pitch ? note : low)));
};

/** Chords of two notes and more; an end never comes before its own start. */
export const evenChordEnds: Step<'evenChordEnds'> = {
  id: 'evenChordEnds',
  name: 'Even chord ends',
  explanation: 'Lets chord tones that start together end together. Starts and single notes stay.',
  defaults: { to: 'longest', window: CHORD_WINDOW },
  fields: {
    to: {
      kind: 'choice',
      label: 'End with',
      choices: [
        { value: 'longest', label: 'the longest' },
        { value: 'median', label: 'the middle one' },
        { value: 'lowest', label: 'the lowest note' },
      ],
    },
    window: { kind: 'length', label: 'Starts within' },
  },
  once: true,
  sees: 'selected',
  run: (notes, context, { to, window }) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const result: StepNote[] = [];
    const reach = (head: StepNote) =>
      lengthInTicks(window, context.ppq, context.tempoMap.ticksPerMillisecond(head.onset));
    for (const chord of startGroups(active, reach)) {
      const end = endFor(chord, to);
      for (const note of chord) {
        if (chord.length === 1 || endOf(note) === end || end <= note.onset) {
          result.push(note);
          continue;
        }
        const even = placed(note, note.onset, end - note.onset);
        changes.push({ noteId: note.id, from: note, to: even, reason: `ends with its chord of ${chord.length}` });
        result.push(even);
      }
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes };
  },
};
