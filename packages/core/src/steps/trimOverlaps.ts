/** Trim overlaps: ends a note where the next begins. Gaps stay. */
import { endOf } from '../model/arrangement.js';
import { byPitch, byVoice, splitMuted, withChanges } from './noteGroups.js';
import { pitchName } from './noteWords.js';
import { placed, type Step, type StepChange, type StepNote, unchanged } from './step.js';

/** Parameters of Trim overlaps. */
export interface TrimParameters {
  readonly against: 'samePitch' | 'anyPitch' | 'nextChord';
  /** Ticks to leave between the end and the next start. */
  readonly leave: number;
}

/** For each note (sorted by onset) the next onset that is later than its own, and that note. */
const nextLater = (sorted: readonly StepNote[]): (StepNote | undefined)[] => {
  const result: (StepNote | undefined)[] = new Array(sorted.length);
  let next: StepNote | undefined;
  for (let index = sorted.length - 1; index >= 0; index -= 1) {
    const note = sorted[index] as StepNote;
    const after = sorted[index + 1];
    if (after && after.onset > note.onset) next = after;
    result[index] = next;
  }
  return result;
};

/** Chord tones that begin together keep together: only a later start trims. */
export const trimOverlaps: Step<TrimParameters> = {
  id: 'trimOverlaps',
  name: 'Trim overlaps',
  explanation: 'Ends a note where the next one of its voice begins. Gaps and chords stay as they are.',
  defaults: { against: 'nextChord', leave: 0 },
  fields: {
    against: {
      kind: 'choice',
      label: 'Against',
      choices: [
        { value: 'samePitch', label: 'the same pitch' },
        { value: 'anyPitch', label: 'any note' },
        { value: 'nextChord', label: 'the next chord' },
      ],
    },
    leave: { kind: 'number', label: 'Leave between', min: 0, max: 480, unit: 'ticks' },
  },
  once: true,
  sees: 'part',
  run: (notes, _context, parameters) => {
    const { active, muted } = splitMuted(notes);
    const lists = parameters.against === 'samePitch' ? [...byPitch(active).values()] : byVoice(active);
    const changes: StepChange[] = [];
    for (const list of lists) {
      const nexts = nextLater(list);
      list.forEach((note, index) => {
        const next = nexts[index];
        if (!next || endOf(note) <= next.onset - parameters.leave) return;
        const duration = Math.max(1, next.onset - parameters.leave - note.onset);
        if (duration >= note.duration) return;
        const to = placed(note, note.onset, duration);
        changes.push({ noteId: note.id, from: note, to, reason: `ran into the ${pitchName(next.pitch)} that follows` });
      });
    }
    return changes.length === 0 ? unchanged(notes) : { notes: withChanges(active, muted, changes), changes };
  },
};
