/** What the plan was not sure of while it read the starts: from the remarks of its steps. */

import type { NoteId, Part } from '../model/arrangement.js';
import { runsWith } from '../plan/plan.js';
import { planOf } from '../plan/readyPlans.js';
import type { Written } from '../plan/written.js';
import type { Remark } from '../reading/remark.js';
import { gatherChords } from '../steps/gatherChords.js';
import { quantizeStarts } from '../steps/quantizeStarts.js';
import { milliseconds } from '../time/noteLengths.js';
import type { Check, CheckInput, Mend, Noticed, StepMend } from './finding.js';
import { secondReading } from './secondReading.js';

const remarksOf = (
  { written, part }: CheckInput,
  kind: Remark['kind'],
  mend: (remark: Remark) => Mend | null,
): Noticed[] => {
  const onsets = new Map(part.notes.map((note) => [note.id, note.onset]));
  const decided = decidedNotes(part);
  return written.steps
    .flatMap((report) => report.remarks)
    .filter((remark) => remark.kind === kind && !remark.noteIds.some((id) => decided.has(id)))
    .map((remark) => ({
      noteIds: remark.noteIds,
      tick: Math.min(...remark.noteIds.map((id) => onsets.get(id) ?? 0)),
      reason: remark.reason,
      mend: mend(remark),
      ...otherReading(written, remark),
    }));
};

/** Notes whose written place a person decided: nothing about it is in doubt. */
const decidedNotes = ({ overrides }: Part): ReadonlySet<NoteId> =>
  new Set(
    (overrides?.list ?? []).flatMap((override) =>
      override.kind === 'writtenStart' || override.kind === 'writtenEnd' ? [override.noteId] : [],
    ),
  );

const otherReading = (written: Written, { others }: Remark): Pick<Noticed, 'otherMend'> => {
  const otherMend = secondReading(written, others);
  return otherMend ? { otherMend } : {};
};

const toGrid = (where: StepMend['where'], grid: number, label: string): Mend => ({
  where,
  step: 'quantizeStarts',
  parameters: { ...quantizeStarts.defaults, grid },
  label,
});

/** Starts far from where the grid puts them. */
export const farOffGrid: Check = {
  name: 'Far off the grid',
  explanation: 'A start lies much further from its place than the player’s others.',
  severity: 'look',
  run: (input) => remarksOf(input, 'farOff', () => toGrid('notes', 1 / 16, 'Move to the sixteenth')),
};

/** Starts between two lines. */
export const eitherWay: Check = {
  name: 'Could have gone either way',
  explanation: 'A start lies near half-way between two lines of the grid.',
  severity: 'look',
  run: (input) => remarksOf(input, 'eitherWay', () => toGrid('notes', 1 / 8, 'Move to the eighth')),
};

/** Ends that could as well be written elsewhere. */
export const eitherEnd: Check = {
  name: 'Could have ended elsewhere',
  explanation: 'A note was let go between two values; the simpler was taken. The other is one key away.',
  severity: 'look',
  run: (input) => remarksOf(input, 'eitherEnd', () => null),
};

/** Bars with more than one good reading. */
export const doubtfulGrid: Check = {
  name: 'Doubtful grid',
  explanation: 'The starts of a beat can be read in more than one way. Hear it, and look at the page.',
  severity: 'look',
  run: (input) => remarksOf(input, 'doubtfulGrid', () => toGrid('bars', 1 / 16, 'Read the bar in sixteenths')),
};

/** Rolls that Gather chords left. */
export const wideRoll: Check = {
  name: 'Rolled chords',
  explanation: 'A chord is rolled wider than chords are gathered. The page shows it as one chord.',
  severity: 'look',
  run: (input) =>
    remarksOf(input, 'wideRoll', () => ({
      where: 'notes',
      step: 'gatherChords',
      parameters: { ...gatherChords.defaults, window: milliseconds(180), to: 'earliest' },
      label: 'Gather it',
    })),
};

const writesStraight = (part: Part): boolean =>
  runsWith(planOf(part), 'quantizeStarts', ({ swung }) => swung === 'straight');

/** Pairs long and short throughout: written straight where they are played so, offered to be where they are drawn so. */
export const swing: Check = {
  name: 'Swing',
  explanation: 'Pairs are played long and short. The plan writes them straight under a swing mark, or as triplets.',
  severity: 'look',
  run: (input) => [
    ...remarksOf(input, 'swung', () => ({
      where: 'plan',
      step: 'quantizeStarts',
      parameters: { swung: 'triplets' },
      label: 'Write as triplets',
    })),
    ...(writesStraight(input.part)
      ? []
      : remarksOf(input, 'swing', () => ({
          where: 'plan',
          step: 'quantizeStarts',
          parameters: { swung: 'straight' },
          label: 'Write straight eighths',
        }))),
  ],
};
