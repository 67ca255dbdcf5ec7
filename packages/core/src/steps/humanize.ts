/** Humanize: small seeded deviations of time and loudness. */

import { createChance } from '../model/chance.js';
import { byPitch, inOrder, splitMuted } from '../reading/noteGroups.js';
import { inMilliseconds } from '../reading/noteWords.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** A start never crosses a neighbour of its pitch, nor bar 1. */
export const humanize: Step<'humanize'> = {
  id: 'humanize',
  name: 'Humanize',
  explanation: 'Moves starts and velocities a little, the same way for the same chance number. Lengths stay.',
  defaults: { timing: 8, lean: 0, velocity: 5, seed: 1 },
  fields: {
    timing: { kind: 'number', label: 'Starts by about', min: 0, max: 60, unit: 'ms' },
    lean: { kind: 'number', label: 'Late, or early below 0', min: -60, max: 60, unit: 'ms' },
    velocity: { kind: 'number', label: 'Velocity by about', min: 0, max: 40 },
    seed: { kind: 'number', label: 'Chance number', min: 1, max: 9999 },
  },
  once: false,
  sees: 'part',
  run: (notes, context, { timing, lean, velocity, seed }) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const result: StepNote[] = [];
    for (const list of byPitch(active).values()) {
      let earliest = 0;
      list.forEach((note, index) => {
        const chance = createChance(seed * 7919 + note.id);
        const perMs = context.tempoMap.ticksPerMillisecond(note.onset);
        const wanted = note.onset + Math.round((chance.normal() * timing + lean) * perMs);
        const next = list[index + 1];
        const latest = next ? Math.max(note.onset, next.onset - 1) : Number.POSITIVE_INFINITY;
        const onset = Math.min(Math.max(wanted, Math.min(earliest, note.onset)), latest);
        const room = next && note.onset + note.duration <= next.onset ? next.onset - onset : Number.POSITIVE_INFINITY;
        const louder = Math.max(1, Math.min(127, Math.round(note.velocity + chance.normal() * velocity)));
        earliest = onset + 1;
        if (onset === note.onset && louder === note.velocity) {
          result.push(note);
          return;
        }
        const to = { ...placed(note, onset, Math.max(1, Math.min(note.duration, room))), velocity: louder };
        const shift = onset - note.onset;
        const moved =
          shift === 0 ? '' : `${inMilliseconds(shift, note.onset, context)} ${shift < 0 ? 'earlier' : 'later'}`;
        const reason = [moved, louder === note.velocity ? '' : `velocity ${louder}`].filter(Boolean).join(', ');
        changes.push({ noteId: note.id, from: note, to, reason });
        result.push(to);
      });
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes };
  },
};
