/** Close gaps: lengthens notes to the next start, where the gap is short. */
import { endOf } from '../model/arrangement.js';
import { type Length, lengthInTicks, noteValue } from '../time/noteLengths.js';
import { byVoice, inOrder, splitMuted } from './noteGroups.js';
import { placed, type Step, type StepChange, type StepNote, unchanged } from './step.js';

/** Parameters of Close gaps. */
export interface CloseGapsParameters {
  /** Gaps up to this are closed; longer ones are rests. */
  readonly upTo: Length;
  /** "note": the next start after the note's end. "chord": the next start after the note's own. */
  readonly to: 'note' | 'chord';
}

/** Longer gaps are rests and stay. */
export const closeGaps: Step<CloseGapsParameters> = {
  id: 'closeGaps',
  name: 'Close gaps',
  explanation: 'Lengthens notes to the next start. Longer gaps are rests and stay.',
  defaults: { upTo: noteValue(1 / 8), to: 'note' },
  fields: {
    upTo: { kind: 'length', label: 'Gaps up to' },
    to: {
      kind: 'choice',
      label: 'To',
      choices: [
        { value: 'note', label: 'the next note' },
        { value: 'chord', label: 'the next chord' },
      ],
    },
  },
  once: true,
  sees: 'part',
  run: (notes, context, { upTo, to }) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const result: StepNote[] = [];
    for (const list of byVoice(active)) {
      const onsets = list.map((note) => note.onset);
      for (const note of list) {
        const from = to === 'note' ? Math.max(note.onset + 1, endOf(note)) : note.onset + 1;
        const next = firstFrom(onsets, from);
        const gap = next === undefined ? 0 : next - endOf(note);
        const reach = lengthInTicks(upTo, context.ppq, context.tempoMap.ticksPerMillisecond(note.onset));
        if (next === undefined || gap <= 0 || gap > reach) {
          result.push(note);
          continue;
        }
        const longer = placed(note, note.onset, next - note.onset);
        changes.push({ noteId: note.id, from: note, to: longer, reason: 'a short gap before the next start' });
        result.push(longer);
      }
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes };
  },
};

/** The first of rising values that is at least `least`. */
const firstFrom = (rising: readonly number[], least: number): number | undefined => {
  let low = 0;
  let high = rising.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((rising[middle] as number) < least) low = middle + 1;
    else high = middle;
  }
  return rising[low];
};
