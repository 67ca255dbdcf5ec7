/** Merge: joins notes of one pitch that overlap, touch, or lie within a gap. */

import { endOf } from '../model/arrangement.js';
import { median } from '../model/statistics.js';
import type { MergeParameters } from '../model/stepParameters.js';
import type { StepContext } from '../reading/context.js';
import { isDouble } from '../reading/doubles.js';
import { byPitch, splitMuted, withChanges } from '../reading/noteGroups.js';
import { noteName } from '../reading/noteWords.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { lengthInTicks } from '../time/noteLengths.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** Notes of one pitch that are becoming one. */
interface Joined {
  readonly first: StepNote;
  /** Those that follow it; most notes have none. */
  more: StepNote[] | null;
  end: number;
}

const usualVelocity = (notes: readonly StepNote[]): number => {
  const velocities: number[] = [];
  for (const { velocity } of notes) velocities.push(velocity);
  return median(velocities) ?? 0;
};

/** One note of all those joined, from the first start to `end`. */
const close = (
  { first, more, end }: Joined,
  parameters: MergeParameters,
  context: StepContext,
  changes: StepChange[],
  struckAgain: boolean,
): void => {
  if (!more && !struckAgain) return;
  const notes = [first, ...(more ?? [])];
  const velocity = parameters.velocity === 'first' ? first.velocity : Math.max(...notes.map((n) => n.velocity));
  const name = noteName(first.pitch, context);
  changes.push({
    noteId: first.id,
    from: first,
    to: placed(first, first.onset, end - first.onset, velocity),
    reason:
      notes.length === 1 ? `ends where the ${name} is struck again` : `joined with ${notes.length - 1} more of ${name}`,
  });
  for (const note of notes.slice(1)) {
    changes.push({
      noteId: note.id,
      from: note,
      to: null,
      into: first.id,
      reason: `joined to the ${name} before it`,
    });
  }
};

/**
 * First start to last end. Alone on overlaps it leaves notes that merely touch: they may be a repeat (drawn, quantized, or
 * ended by the pedal).
 */
export const merge: Step<'merge'> = {
  id: 'merge',
  name: 'Merge',
  explanation:
    'Joins notes of one pitch that overlap or lie within the gap. Other pitches in between do not matter. Where overlaps are judged, a key that is struck again stays two notes.',
  defaults: { gap: null, velocity: 'first', overlaps: 'join' },
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
    overlaps: {
      kind: 'choice',
      label: 'Overlaps',
      choices: [
        { value: 'join', label: 'joined' },
        { value: 'judge', label: 'doubles joined, repeats kept' },
      ],
      later: true,
    },
  },
  once: true,
  sees: 'selected',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const { gap } = parameters;
    const reachAt = (onset: number) =>
      gap === null ? -1 : lengthInTicks(gap, context.ppq, context.tempoMap.ticksPerMillisecond(onset));
    const usual = parameters.overlaps === 'judge' ? usualVelocity(active) : 0;
    for (const group of byPitch(active).values()) {
      let joined: Joined | null = null;
      for (const note of group) {
        if (joined) {
          const near = note.onset - joined.end <= reachAt(note.onset);
          const again: boolean =
            near &&
            parameters.overlaps === 'judge' &&
            note.onset < joined.end &&
            !isDouble(joined, note, context, usual);
          if (near && !again) {
            joined.more ??= [];
            joined.more.push(note);
            joined.end = Math.max(joined.end, endOf(note));
            continue;
          }
          if (again) joined.end = note.onset;
          close(joined, parameters, context, changes, again);
        }
        joined = { first: note, more: null, end: endOf(note) };
      }
      if (joined) close(joined, parameters, context, changes, false);
    }
    return changes.length === 0 ? unchanged(notes) : { notes: withChanges(active, muted, changes), changes };
  },
};
