/** Doubles, hidden notes, specks, notes without length, overlaps of one pitch: what a recording holds twice, or by mistake. */

import { endOf } from '../model/arrangement.js';
import { median } from '../model/statistics.js';
import type { StepContext } from '../reading/context.js';
import { isDouble } from '../reading/doubles.js';
import { byPitch } from '../reading/noteGroups.js';
import { aNote, noteName } from '../reading/noteWords.js';
import type { StepNote } from '../reading/stepNote.js';
import { deDuplicate, doublesIn } from '../steps/deDuplicate.js';
import { dropSpecks } from '../steps/dropSpecks.js';
import { merge } from '../steps/merge.js';
import type { StepChange } from '../steps/step.js';
import type { Check, CheckInput, Noticed } from './finding.js';

/** One note is dropped however many of its kind there are. */
const DROP = { ...dropSpecks.defaults, unlessMoreThan: null };

const dropsOf = (changes: readonly StepChange[], label: string): Noticed[] =>
  changes.map((change) => ({
    noteIds: [change.noteId],
    tick: change.from.onset,
    reason: change.reason,
    mend: {
      where: 'notes',
      step: 'deDuplicate',
      parameters: deDuplicate.defaults,
      label,
      noteIds: change.into === undefined ? [change.noteId] : [change.noteId, change.into],
    },
  }));

/** Second notes of one pitch that start together. */
export const doubles: Check = {
  name: 'Doubles',
  explanation: 'A second note of the same pitch starts with the first.',
  severity: 'wrong',
  run: ({ notes, context }) => dropsOf(doublesIn(notes, context).together, 'Take it out'),
};

/** Short notes of a pitch under a longer one, which they cut short when played. */
export const hiddenNotes: Check = {
  name: 'Hidden notes',
  explanation: 'A short note lies under a longer one of its pitch, and cuts its sound short.',
  severity: 'wrong',
  run: ({ notes, context }) => dropsOf(doublesIn(notes, context).hidden, 'Take it out'),
};

/** Notes too short to be meant. */
export const specks: Check = {
  name: 'Specks',
  explanation: 'A note too short to be meant, from a brushed key.',
  severity: 'likely',
  run: ({ notes, context, part }) =>
    context.instrument.clef === 'percussion'
      ? []
      : dropSpecks.run(notes, context, dropSpecks.defaults).changes.flatMap((change) =>
          change.from.duration <= 0
            ? []
            : [
                {
                  noteIds: [change.noteId],
                  tick: change.from.onset,
                  reason: change.reason,
                  severity:
                    part.notes.length > 0 && change.from.velocity > LOUD ? ('look' as const) : ('likely' as const),
                  mend: { where: 'notes', step: 'dropSpecks', parameters: DROP, label: 'Drop it' },
                },
              ],
        ),
};

/** A speck as loud as this may be meant. */
const LOUD = 70;

/** Notes that end where they start. */
export const zeroLength: Check = {
  name: 'No length',
  explanation: 'A note ends where it starts, so that it is not heard.',
  severity: 'wrong',
  run: ({ notes, context }) =>
    notes
      .filter((note) => note.duration <= 0)
      .map((note) => ({
        noteIds: [note.id],
        tick: note.onset,
        reason: `${aNote(note.pitch, context)} that ends where it starts`,
        mend: { where: 'notes', step: 'dropSpecks', parameters: DROP, label: 'Drop it' },
      })),
};

const JUDGED = { ...merge.defaults, overlaps: 'judge' } as const;

const overlapping = (
  group: readonly StepNote[],
  hidden: ReadonlySet<number>,
  context: StepContext,
  usual: number,
): Noticed[] => {
  const found: Noticed[] = [];
  let before: StepNote | undefined;
  for (const note of group) {
    if (hidden.has(note.id)) continue;
    if (before && note.onset < endOf(before)) {
      const name = noteName(note.pitch, context);
      const double = isDouble({ first: before, end: endOf(before) }, note, context, usual);
      found.push({
        noteIds: [before.id, note.id],
        tick: note.onset,
        reason: double ? `one ${name}, cut in two by a double` : `the ${name} is struck again while it still sounds`,
        mend: double
          ? { where: 'notes', step: 'merge', parameters: merge.defaults, label: 'Join them' }
          : { where: 'notes', step: 'merge', parameters: JUDGED, label: 'End the first there' },
      });
    }
    if (!before || endOf(note) > endOf(before)) before = note;
  }
  return found;
};

/** Notes of one pitch that overlap and are no doubles. */
export const samePitchOverlap: Check = {
  name: 'Overlaps of one pitch',
  explanation: 'A note starts while another of its pitch still sounds.',
  severity: 'likely',
  run: ({ notes, context }: CheckInput) => {
    const { together, hidden } = doublesIn(notes, context);
    const usual = median(notes.map(({ velocity }) => velocity)) ?? 0;
    const known = new Set([...together, ...hidden].map((change) => change.noteId));
    return [...byPitch(notes).values()].flatMap((group) => overlapping(group, known, context, usual));
  },
};
