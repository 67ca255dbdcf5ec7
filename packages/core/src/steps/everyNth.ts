/** Every n-th: keeps or drops every n-th note of a pitch. */
import { byPitch, inOrder, splitMuted } from './noteGroups.js';
import { pitchName } from './noteWords.js';
import { type Step, type StepChange, type StepNote, unchanged } from './step.js';

/** Parameters of Every n-th. */
export interface EveryNthParameters {
  readonly n: number;
  /** Which of each n is meant, from 1. */
  readonly offset: number;
  readonly action: 'keep' | 'drop';
}

/** Counts in time order, each pitch on its own. With n = 1 it keeps all. */
export const everyNth: Step<EveryNthParameters> = {
  id: 'everyNth',
  name: 'Every n-th',
  explanation: 'Keeps or drops every n-th note of each pitch, counted in time. The others stay, or go.',
  defaults: { n: 1, offset: 1, action: 'keep' },
  fields: {
    n: { kind: 'number', label: 'Of each', min: 1, max: 64 },
    offset: { kind: 'number', label: 'The one numbered', min: 1, max: 64 },
    action: {
      kind: 'choice',
      label: 'Is',
      choices: [
        { value: 'keep', label: 'kept, the others go' },
        { value: 'drop', label: 'dropped, the others stay' },
      ],
    },
  },
  once: false,
  sees: 'selected',
  run: (notes, _context, { n, offset, action }) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const kept: StepNote[] = [];
    for (const list of byPitch(active).values()) {
      list.forEach((note, index) => {
        const meant = index % n === (offset - 1) % n;
        if (meant === (action === 'keep')) kept.push(note);
        else {
          changes.push({
            noteId: note.id,
            from: note,
            to: null,
            reason: `number ${index + 1} of the ${pitchName(note.pitch)}s`,
          });
        }
      });
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(kept, muted), changes };
  },
};
