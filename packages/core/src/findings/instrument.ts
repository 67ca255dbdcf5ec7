/** What the instrument, the hand or another part says: out of range, wider than a hand, the same note in two parts. */

import { endOf } from '../model/arrangement.js';
import { playsTwoHanded, splitHands } from '../reading/hands.js';
import { pitchName } from '../reading/noteWords.js';
import type { StepNote } from '../reading/stepNote.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import type { Check, Noticed } from './finding.js';

/** Notes that the instrument cannot play. */
export const outOfRange: Check = {
  name: 'Out of range',
  explanation: 'A note lies above or below what the instrument plays.',
  severity: 'likely',
  run: ({ notes, context: { instrument } }) =>
    notes.flatMap((note) => {
      const { lowest, highest } = instrument;
      if (note.pitch >= lowest && note.pitch <= highest) return [];
      const below = note.pitch < lowest;
      const octaves = below ? Math.ceil((lowest - note.pitch) / 12) : -Math.ceil((note.pitch - highest) / 12);
      return [
        {
          noteIds: [note.id],
          tick: note.onset,
          reason: `${pitchName(note.pitch)} is ${below ? `below ${pitchName(lowest)}, the lowest` : `above ${pitchName(highest)}, the highest`} note of the ${instrument.name.toLowerCase()}`,
          mend: {
            where: 'notes',
            step: 'transpose',
            parameters: { semitones: 0, octaves, steps: 0 },
            label: `Move ${below ? 'up' : 'down'} ${Math.abs(octaves) === 1 ? 'an octave' : `${Math.abs(octaves)} octaves`}`,
          },
        },
      ];
    }),
};

/** A tenth and a half: more than a hand spans (common practice). */
const WIDEST_HAND = 17;
const TOGETHER = 35;

/** Chords of one hand that no hand spans. */
export const widerThanHand: Check = {
  name: 'Wider than a hand',
  explanation: 'The notes that one hand has together are further apart than a hand reaches.',
  severity: 'look',
  run: ({ notes, context }) => {
    if (!playsTwoHanded(notes, context.instrument)) return [];
    const staves = splitHands(notes, context);
    return ([1, 2] as const).flatMap((staff) => {
      const hand = notes.filter((note) => staves.get(note.id) === staff);
      const found: Noticed[] = [];
      for (let index = 0; index < hand.length; ) {
        const head = hand[index] as StepNote;
        const chord: StepNote[] = [];
        const reach = TOGETHER * context.tempoMap.ticksPerMillisecond(head.onset);
        while (index < hand.length && (hand[index] as StepNote).onset - head.onset <= reach) {
          chord.push(hand[index++] as StepNote);
        }
        const sorted = [...chord].sort((a, b) => a.pitch - b.pitch);
        const [low, high] = [sorted[0] as StepNote, sorted[sorted.length - 1] as StepNote];
        if (high.pitch - low.pitch <= WIDEST_HAND) continue;
        const far = staff === 1 ? low : high;
        found.push({
          noteIds: chord.map((note) => note.id),
          tick: head.onset,
          reason: `${pitchName(low.pitch)} to ${pitchName(high.pitch)} in the ${staff === 1 ? 'right' : 'left'} hand`,
          mend: {
            where: 'notes',
            step: 'transpose',
            parameters: { semitones: 0, octaves: staff === 1 ? 1 : -1, steps: 0 },
            label: `Move ${pitchName(far.pitch)} an octave ${staff === 1 ? 'up' : 'down'}`,
            noteIds: [far.id],
          },
        });
      }
      return found;
    });
  },
};

/** Notes this near in time and length, and of equal loudness, were recorded twice (milliseconds). */
const SAME_START = 5;

/** The very same note in an earlier part: a track copied or recorded twice. A unison played by two people differs. */
export const sameInTwoParts: Check = {
  name: 'The same note in two parts',
  explanation: 'Another part has this note at the same time, as long and as loud.',
  compares: true,
  severity: 'look',
  run: ({ notes, context, part, arrangement }) => {
    const found: Noticed[] = [];
    for (const other of arrangement.parts) {
      if (other.id === part.id) break;
      const onsets = other.notes.map((note) => note.onset);
      for (const note of notes) {
        const near = SAME_START * context.tempoMap.ticksPerMillisecond(note.onset);
        let at = Math.max(
          0,
          lastIndexAtOrBefore(onsets, note.onset - near - 1, (onset) => onset),
        );
        for (; at < onsets.length && (onsets[at] as number) <= note.onset + near; at += 1) {
          const twin = other.notes[at];
          if (!twin || twin.pitch !== note.pitch || twin.velocity !== note.velocity) continue;
          if (Math.abs(twin.onset - note.onset) > near || Math.abs(endOf(twin) - endOf(note)) > near) continue;
          found.push({
            noteIds: [note.id],
            tick: note.onset,
            reason: `${other.name} has the same ${pitchName(note.pitch)}`,
            mend: {
              where: 'notes',
              step: 'everyNth',
              parameters: { n: 1, offset: 1, action: 'drop' },
              label: 'Take it out here',
            },
          });
          break;
        }
      }
    }
    return found;
  },
};
