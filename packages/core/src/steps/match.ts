/** Match lengths, Match velocity: all notes get one value. */
import { splitMuted } from '../reading/noteGroups.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { lengthInTicks } from '../time/noteLengths.js';
import { eachNote, type Step } from './step.js';

const active = (notes: readonly StepNote[]): readonly StepNote[] => splitMuted(notes).active;

/** The value that each way of matching gives, worked out once for all notes. */
const commonOf = (values: readonly number[], which: 'first' | 'highest' | 'lowest' | 'median'): number => {
  if (which === 'first') return values[0] as number;
  const sorted = [...values].sort((a, b) => a - b);
  const place = { lowest: 0, median: sorted.length >> 1, highest: sorted.length - 1 }[which];
  return sorted[place] as number;
};

const LENGTH_RANKS = { first: 'first', longest: 'highest', shortest: 'lowest', median: 'median' } as const;
const VELOCITY_RANKS = { first: 'first', loudest: 'highest', softest: 'lowest', median: 'median' } as const;

/** Starts stay. */
export const matchLengths: Step<'matchLengths'> = {
  id: 'matchLengths',
  name: 'Match lengths',
  explanation: 'Gives all notes one length. Starts stay.',
  defaults: { value: 'median', typed: null },
  fields: {
    value: {
      kind: 'choice',
      label: 'Length',
      choices: [
        { value: 'first', label: 'of the first' },
        { value: 'longest', label: 'of the longest' },
        { value: 'shortest', label: 'of the shortest' },
        { value: 'median', label: 'in the middle' },
        { value: 'typed', label: 'as typed' },
      ],
    },
    typed: { kind: 'length', label: 'Typed', none: 'none' },
  },
  once: true,
  sees: 'selected',
  run: (notes, context, { value, typed }) => {
    const lengths = active(notes)
      .map((note) => note.duration as number)
      .filter((duration) => duration > 0);
    if (lengths.length === 0) return { notes, changes: [] };
    const common = value === 'typed' ? null : commonOf(lengths, LENGTH_RANKS[value]);
    const wanted = (note: StepNote): number => {
      if (common !== null) return common;
      if (!typed) return note.duration;
      return lengthInTicks(typed, context.ppq, context.tempoMap.ticksPerMillisecond(note.onset));
    };
    return eachNote(notes, (note) => {
      const length = Math.max(1, Math.round(wanted(note)));
      return length === note.duration ? null : { to: placed(note, note.onset, length), reason: 'all get one length' };
    });
  },
};

/** Times stay. */
export const matchVelocity: Step<'matchVelocity'> = {
  id: 'matchVelocity',
  name: 'Match velocity',
  explanation: 'Gives all notes one velocity. Times stay.',
  defaults: { value: 'median', typed: 80 },
  fields: {
    value: {
      kind: 'choice',
      label: 'Velocity',
      choices: [
        { value: 'first', label: 'of the first' },
        { value: 'loudest', label: 'of the loudest' },
        { value: 'softest', label: 'of the softest' },
        { value: 'median', label: 'in the middle' },
        { value: 'typed', label: 'as typed' },
      ],
    },
    typed: { kind: 'number', label: 'Typed', min: 1, max: 127, of: 'velocity' },
  },
  once: true,
  sees: 'selected',
  run: (notes, _context, { value, typed }) => {
    const velocities = active(notes).map((note) => note.velocity);
    if (velocities.length === 0) return { notes, changes: [] };
    const wanted = value === 'typed' ? typed : commonOf(velocities, VELOCITY_RANKS[value]);
    return eachNote(notes, (note) =>
      note.velocity === wanted
        ? null
        : { to: { ...note, velocity: wanted }, reason: `velocity ${note.velocity}, all get ${wanted}` },
    );
  },
};
