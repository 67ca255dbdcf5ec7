/** Merge: joins notes of one pitch that overlap, touch, or lie within a gap. */

import { endOf } from '../model/arrangement.js';
import { byPitch, splitMuted, withChanges } from '../reading/noteGroups.js';
import { noteName } from '../reading/noteWords.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { lengthInTicks } from '../time/noteLengths.js';
import { type Step, type StepChange, unchanged } from './step.js';

/**
 * First start to last end. The plan's default joins overlaps only: one key cannot sound twice at once, so an overlap is
 * one note cut by a double, while notes that merely touch may be a repeat (drawn, quantized, or ended by the pedal).
 */
export const merge: Step<'merge'> = {
  id: 'merge',
  name: 'Merge',
  explanation: 'Joins notes of one pitch that overlap or lie within the gap. Other pitches in between do not matter.',
  defaults: { gap: null, velocity: 'first' },
  fields: {
    gap: { kind: 'length', label: 'Join over a gap of', none: 'overlaps only' },
    velocity: {
      kind: 'choice',
      label: 'Loudness',
      choices: [
        { value: 'first', label: 'of the first' },
        { value: 'loudest', label: 'of the loudest' },
      ],
    },
  },
  once: true,
  sees: 'selected',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    for (const group of byPitch(active).values()) {
      let joined: StepNote[] = [];
      let end = 0;
      const close = () => {
        const first = joined[0];
        if (!first || joined.length === 1) return;
        const velocity = parameters.velocity === 'first' ? first.velocity : Math.max(...joined.map((n) => n.velocity));
        const result = placed(first, first.onset, end - first.onset, velocity);
        changes.push({
          noteId: first.id,
          from: first,
          to: result,
          reason: `joined with ${joined.length - 1} more of ${noteName(first.pitch, context)}`,
        });
        for (const note of joined.slice(1)) {
          changes.push({
            noteId: note.id,
            from: note,
            to: null,
            into: first.id,
            reason: `joined to the ${noteName(first.pitch, context)} before it`,
          });
        }
      };
      for (const note of group) {
        const perMs = context.tempoMap.ticksPerMillisecond(note.onset);
        const reach = parameters.gap === null ? -1 : lengthInTicks(parameters.gap, context.ppq, perMs);
        if (joined.length > 0 && note.onset - end <= reach) joined.push(note);
        else {
          close();
          joined = [note];
          end = 0;
        }
        end = Math.max(end, endOf(note));
      }
      close();
    }
    return changes.length === 0 ? unchanged(notes) : { notes: withChanges(active, muted, changes), changes };
  },
};
