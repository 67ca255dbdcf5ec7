/** Every n-th: keeps, drops or selects every n-th note of a pitch. */

import type { NoteId } from '../model/arrangement.js';
import { byPitch, inOrder, splitMuted } from '../reading/noteGroups.js';
import { noteName } from '../reading/noteWords.js';
import type { StepNote } from '../reading/stepNote.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** Counts in time order, each pitch on its own. With n = 1 it keeps all. */
export const everyNth: Step<'everyNth'> = {
  id: 'everyNth',
  name: 'Every n-th',
  explanation: 'Keeps, drops or selects every n-th note of each pitch, counted in time. The others stay, or go.',
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
        { value: 'pick', label: 'selected, all stay' },
      ],
    },
  },
  once: false,
  sees: 'selected',
  run: (notes, context, { n, offset, action }) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const kept: StepNote[] = [];
    const picked: NoteId[] = [];
    for (const list of byPitch(active).values()) {
      list.forEach((note, index) => {
        const meant = index % n === (offset - 1) % n;
        if (meant && action === 'pick') picked.push(note.id);
        if (action === 'pick' || meant === (action === 'keep')) kept.push(note);
        else {
          changes.push({
            noteId: note.id,
            from: note,
            to: null,
            reason: `number ${index + 1} of the ${noteName(note.pitch, context)}s`,
          });
        }
      });
    }
    if (action === 'pick') return { ...unchanged(notes), picked };
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(kept, muted), changes };
  },
};
