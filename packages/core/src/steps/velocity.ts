/** Velocity range, Velocity scale: loudness, without touching times. */

import { createChance } from '../model/chance.js';
import { countOfNotes } from '../reading/noteWords.js';
import type { StepNote } from '../reading/stepNote.js';
import { eachNote, type Step } from './step.js';

const clamped = (value: number): number => Math.max(1, Math.min(127, Math.round(value)));

/** A floor and a ceiling. */
export const velocityRange: Step<'velocityRange'> = {
  id: 'velocityRange',
  name: 'Velocity range',
  explanation: 'Raises what is softer than the floor, lowers what is louder than the ceiling. The rest stays.',
  defaults: { floor: 1, ceiling: 127 },
  fields: {
    floor: { kind: 'number', label: 'Floor', min: 1, max: 127, of: 'velocity' },
    ceiling: { kind: 'number', label: 'Ceiling', min: 1, max: 127, of: 'velocity' },
  },
  once: true,
  sees: 'selected',
  run: (notes, _context, { floor, ceiling }) =>
    eachNote(notes, (note) => {
      const velocity = Math.min(Math.max(note.velocity, floor), Math.max(floor, ceiling));
      if (velocity === note.velocity) return null;
      const reason =
        velocity > note.velocity ? `${note.velocity} is below the floor` : `${note.velocity} is over the ceiling`;
      return { to: { ...note, velocity }, reason };
    }),
};

/** Clamps to 1…127, and says where it did. */
export const velocityScale: Step<'velocityScale'> = {
  id: 'velocityScale',
  name: 'Velocity scale',
  explanation: 'Multiplies, adds, squeezes about the middle, tilts from left to right, varies at random. Times stay.',
  defaults: { factor: 1, amount: 0, squeeze: 100, tilt: 0, vary: 0, seed: 1 },
  fields: {
    factor: { kind: 'number', label: 'Multiply by', min: 0, max: 4, step: 0.05 },
    amount: { kind: 'number', label: 'Add', min: -126, max: 126 },
    squeeze: { kind: 'number', label: 'Distance from the middle', min: 0, max: 200, unit: '%' },
    tilt: { kind: 'number', label: 'Tilt from left to right', min: -100, max: 100 },
    vary: { kind: 'number', label: 'Vary by up to', min: 0, max: 60 },
    seed: { kind: 'number', label: 'Chance number', min: 1, max: 9999 },
  },
  once: true,
  sees: 'selected',
  run: (notes, _context, { factor, amount, squeeze, tilt, vary, seed }) => {
    const active = notes.filter((note) => !note.muted);
    const scaled = (note: StepNote) => note.velocity * factor + amount;
    const sorted = active.map(scaled).sort((a, b) => a - b);
    const middle = sorted[sorted.length >> 1] ?? 0;
    const first = active.reduce((low, note) => Math.min(low, note.onset), Number.POSITIVE_INFINITY);
    const last = active.reduce((high, note) => Math.max(high, note.onset), 0);
    let clampedNotes = 0;
    const result = eachNote(notes, (note) => {
      const along = last > first ? ((note.onset - first) / (last - first)) * 2 - 1 : 0;
      const random = vary === 0 ? 0 : createChance(seed * 7919 + note.id).between(-vary, vary);
      const wanted = middle + ((scaled(note) - middle) * squeeze) / 100 + along * tilt + random;
      const velocity = clamped(wanted);
      if (Math.round(wanted) !== velocity) clampedNotes += 1;
      if (velocity === note.velocity) return null;
      const kept = Math.round(wanted) === velocity ? '' : ', kept within 1 and 127';
      return { to: { ...note, velocity }, reason: `velocity ${note.velocity} becomes ${velocity}${kept}` };
    });
    return clampedNotes === 0
      ? result
      : { ...result, notice: `Kept within velocity 1 to 127: ${countOfNotes(clampedNotes)}.` };
  },
};
