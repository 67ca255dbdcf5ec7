/** Gather chords: brings notes that start nearly together to one start. */
import type { GatherParameters } from '../model/stepParameters.js';
import { headOf, rollsOf } from '../reading/attacks.js';
import type { StepContext } from '../reading/context.js';
import { inOrder, splitMuted } from '../reading/noteGroups.js';
import { inMilliseconds } from '../reading/noteWords.js';
import type { Remark } from '../reading/remark.js';
import { CHORD_WINDOW, startGroups } from '../reading/startGroups.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { lengthInTicks } from '../time/noteLengths.js';
import { type Step, type StepChange, unchanged } from './step.js';

const meetingPoint = (group: readonly StepNote[], to: GatherParameters['to']): number => {
  if (to === 'earliest') return (group[0] as StepNote).onset;
  if (to === 'middle') return (group[(group.length - 1) >> 1] as StepNote).onset;
  return group.reduce((best, note) => (note.velocity > best.velocity ? note : best)).onset;
};

/** A pitch struck again is no tone of the same chord. */
const isNewPitch = (group: readonly StepNote[], note: StepNote): boolean =>
  !group.some((other) => other.pitch === note.pitch);

/** Rolls that the window did not gather. */
const wideRolls = (groups: readonly StepNote[][], context: StepContext): Remark[] =>
  rollsOf(groups, context)
    .filter((roll) => roll.length > 1)
    .map((roll) => {
      const notes = roll.flat();
      const first = notes[0] as StepNote;
      const span = headOf(roll, roll.length - 1).onset - first.onset;
      return {
        kind: 'wideRoll',
        noteIds: notes.map((note) => note.id),
        reason: `a roll of ${notes.length} notes over ${inMilliseconds(span, first.onset, context)}, wider than a chord`,
      };
    });

/** Ends stay where they were played. A roll wider than the window is left; so is a repeat of one pitch. */
export const gatherChords: Step<'gatherChords'> = {
  id: 'gatherChords',
  name: 'Gather chords',
  explanation: 'Brings notes that start nearly together to one start; their ends stay. Wider rolls are left alone.',
  defaults: { window: CHORD_WINDOW, to: 'middle' },
  fields: {
    window: { kind: 'length', label: 'Starts within' },
    to: {
      kind: 'choice',
      label: 'Go to',
      choices: [
        { value: 'earliest', label: 'the earliest' },
        { value: 'middle', label: 'the middle one' },
        { value: 'loudest', label: 'the loudest' },
      ],
    },
  },
  once: true,
  sees: 'selected',
  run: (notes, context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const window = (head: StepNote) =>
      lengthInTicks(parameters.window, context.ppq, context.tempoMap.ticksPerMillisecond(head.onset));
    const groups = startGroups(active, window, isNewPitch);
    const changes: StepChange[] = [];
    const result: StepNote[] = [];
    groups.forEach((group, index) => {
      const head = group[0] as StepNote;
      const next = groups[index + 1]?.[0]?.onset ?? Number.POSITIVE_INFINITY;
      // Stays a window clear of the next chord, so that gathering again would change nothing.
      const clear = Math.max(head.onset, Math.ceil(next - window(head)) - 1);
      const target = Math.min(meetingPoint(group, parameters.to), clear);
      for (const note of group) {
        const shift = target - note.onset;
        if (shift === 0) {
          result.push(note);
          continue;
        }
        const to = placed(note, target, Math.max(1, note.duration - shift));
        const reason = `${inMilliseconds(shift, note.onset, context)} ${shift > 0 ? 'early' : 'late'} in a chord of ${group.length}`;
        changes.push({ noteId: note.id, from: note, to, reason });
        result.push(to);
      }
    });
    const remarks = wideRolls(groups, context);
    return { ...(changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes }), remarks };
  },
};
