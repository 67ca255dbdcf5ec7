/** Trim overlaps: ends a note where the next begins. Gaps stay. */
import { endOf } from '../model/arrangement.js';
import type { StepContext } from '../reading/context.js';
import { byPitch, byVoice, splitMuted, withChanges } from '../reading/noteGroups.js';
import { noteName } from '../reading/noteWords.js';
import { chordWindow, startGroups } from '../reading/startGroups.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** Calls back with each note that has a later start to be trimmed against, and the first note there. */
type Visit = (note: StepNote, next: StepNote) => void;

/** Each note with the next later start of its own pitch. */
const withNextOfPitch = (active: readonly StepNote[], visit: Visit): void => {
  for (const list of byPitch(active).values()) {
    let later: StepNote | undefined;
    for (let index = list.length - 1; index >= 0; index -= 1) {
      const note = list[index] as StepNote;
      const after = list[index + 1];
      if (after && after.onset > note.onset) later = after;
      if (later) visit(note, later);
    }
  }
};

/** Each note with the next note, or the next chord, after its own chord, within its voice. */
const withNextInVoice = (
  active: readonly StepNote[],
  context: StepContext,
  against: 'anyPitch' | 'nextChord',
  visit: Visit,
): void => {
  for (const list of byVoice(active)) {
    const chords = startGroups(list, chordWindow(context));
    let head: StepNote | undefined;
    for (let index = chords.length - 1; index >= 0; index -= 1) {
      const chord = chords[index] as StepNote[];
      if (head) for (const note of chord) visit(note, head);
      if (against === 'anyPitch' || chord.length > 1) head = chord[0];
    }
  }
};

/** Tones of one chord, struck within a chord's window of each other, never cut each other. */
export const trimOverlaps: Step<'trimOverlaps'> = {
  id: 'trimOverlaps',
  name: 'Trim overlaps',
  explanation:
    'Ends a note that sounds into a later one. Same pitch: a C4 ends where the next C4 begins. Any note: a chord ends where the next note outside it begins. Next chord: a bass note ends where the next two notes begin together, and single notes in between sound on.',
  defaults: { against: 'anyPitch', leave: 0 },
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
  run: (notes, context, { against, leave }) => {
    const { active, muted } = splitMuted(notes);
    const changes: StepChange[] = [];
    const trim: Visit = (note, next) => {
      if (endOf(note) <= next.onset - leave) return;
      const duration = Math.max(1, next.onset - leave - note.onset);
      if (duration >= note.duration) return;
      const to = placed(note, note.onset, duration);
      changes.push({
        noteId: note.id,
        from: note,
        to,
        reason: `ran into the ${noteName(next.pitch, context)} that follows`,
      });
    };
    if (against === 'samePitch') withNextOfPitch(active, trim);
    else withNextInVoice(active, context, against, trim);
    return changes.length === 0 ? unchanged(notes) : { notes: withChanges(active, muted, changes), changes };
  },
};
