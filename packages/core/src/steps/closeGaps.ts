/** Close gaps: lengthens notes to the next start, where the gap is short. */
import { endOf } from '../model/arrangement.js';
import { byVoice, inOrder, splitMuted } from '../reading/noteGroups.js';
import { type ChordAt, chordsOf } from '../reading/startGroups.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { lengthInTicks, noteValue } from '../time/noteLengths.js';
import { firstIndexAtOrAfter } from '../time/search.js';
import { type Step, type StepChange, unchanged } from './step.js';

/** Where the first of the chords after `index` begins that a note ending at `end` could be lengthened to. */
const nextStart = (chords: readonly ChordAt[], index: number, end: number, to: 'note' | 'chord'): number => {
  const first = Math.max(
    index + 1,
    firstIndexAtOrAfter(chords, end, (chord) => chord.onset),
  );
  const chord = chords[first];
  if (!chord) return Number.POSITIVE_INFINITY;
  return to === 'note' || chord.notes.length > 1 ? chord.onset : chord.nextChord;
};

/** Longer gaps are rests and stay. Tones of one chord are never lengthened to each other's starts. */
export const closeGaps: Step<'closeGaps'> = {
  id: 'closeGaps',
  name: 'Close gaps',
  explanation:
    'Lengthens notes over a short gap. Next note: to the first start after the gap that is not of the same chord. Next chord: to where two notes or more begin together, under single notes in between. Longer gaps are rests and stay.',
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
      const chords = chordsOf(list, context);
      chords.forEach((chord, index) => {
        const reach = lengthInTicks(upTo, context.ppq, context.tempoMap.ticksPerMillisecond(chord.onset));
        for (const note of chord.notes) {
          const next = nextStart(chords, index, endOf(note), to);
          const gap = next - endOf(note);
          if (gap <= 0 || gap > reach) {
            result.push(note);
            continue;
          }
          const longer = placed(note, note.onset, next - note.onset);
          changes.push({ noteId: note.id, from: note, to: longer, reason: 'a short gap before the next start' });
          result.push(longer);
        }
      });
    }
    return changes.length === 0 ? unchanged(notes) : { notes: inOrder(result, muted), changes };
  },
};
