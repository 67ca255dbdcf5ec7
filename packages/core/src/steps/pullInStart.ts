/** Pull in the start: a note that begins just before bar 1, or before a bar line after silence, goes on it. */

import { endOf } from '../model/arrangement.js';
import { inOrder, splitMuted } from '../reading/noteGroups.js';
import { inMilliseconds } from '../reading/noteWords.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { barHolding } from '../time/meterMap.js';
import { lengthInTicks, noteValue } from '../time/noteLengths.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** The end stays where it was. */
export const pullInStart: Step<'pullInStart'> = {
  id: 'pullInStart',
  name: 'Pull in the start',
  explanation: 'Moves a first note that comes just before its bar line onto it; its end stays. Others stay.',
  defaults: { within: noteValue(1 / 8), silence: noteValue(1) },
  fields: {
    within: { kind: 'length', label: 'Before the bar line by at most' },
    silence: { kind: 'length', label: 'After a silence of at least' },
  },
  once: true,
  sees: 'part',
  run: (notes, context, { within, silence }) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const result: StepNote[] = [];
    let soundsUntil = Number.NEGATIVE_INFINITY;
    let entry = Number.NEGATIVE_INFINITY;
    for (const note of active) {
      const perMs = context.tempoMap.ticksPerMillisecond(note.onset);
      const reach = lengthInTicks(within, context.ppq, perMs);
      if (note.onset - soundsUntil >= lengthInTicks(silence, context.ppq, perMs)) entry = note.onset;
      soundsUntil = Math.max(soundsUntil, endOf(note));
      const line = barHolding(context.bars, note.onset)?.end ?? 0;
      const early = line - note.onset;
      // What mostly sounds before the line is a pickup, and meant.
      if (note.onset - entry > reach || early <= 0 || early > reach || note.duration <= early * 2) {
        result.push(note);
        continue;
      }
      const to = placed(note, line, note.duration - early);
      changes.push({
        noteId: note.id,
        from: note,
        to,
        reason: `begins ${inMilliseconds(early, note.onset, context)} before its bar line`,
      });
      result.push(to);
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes };
  },
};
