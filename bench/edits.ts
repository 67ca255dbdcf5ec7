/** Times edits, commands and a long silence, each in sorts of the same notes or as a ratio, in the same run. */
import { writeFileSync } from 'node:fs';
import {
  applyEdit,
  type Condition,
  type ConditionKind,
  changeVelocities,
  compareNotes,
  countSentence,
  dealOut,
  type Edit,
  findingsOf,
  invertEdit,
  mapSelection,
  median as middleOf,
  moveNotes,
  type Note,
  newChange,
  newCondition,
  type Part,
  planOf,
  readPitches,
  runPlan,
  runSentence,
  samePitches,
  selectionOf,
  selectionSize,
  selectionWhere,
  stretchesShown,
  ticks,
  trimNotes,
  writtenMaps,
} from '@crispfold/core';
import { made, madeScoreOf } from './made.js';

const RUNS = 9;
const once = (work: () => unknown): number => {
  const began = performance.now();
  work();
  return performance.now() - began;
};
/** Medians of works that take turns, so that a slow moment is everyone's. */
const turns = (...works: (() => unknown)[]): number[] => {
  for (const work of works) for (let warm = 0; warm < 3; warm += 1) work();
  const times = works.map((): number[] => []);
  for (let turn = 0; turn < RUNS; turn += 1) {
    for (const [index, work] of works.entries()) times[index]?.push(once(work));
  }
  return times.map((list) => middleOf(list) ?? Number.NaN);
};

/** Sorting the same notes, shuffled by a fixed stride. */
const sortOf = (notes: readonly Note[]) => {
  const mixed = notes.map((_, index) => notes[(index * 7919) % notes.length] as Note);
  return () => [...mixed].sort(compareNotes);
};

const rows: { readonly what: string; readonly notes: number; readonly sorts: number; readonly ms: number }[] = [];
const row = (what: string, notes: number, [sort = 1, ms = 0]: readonly number[]) =>
  rows.push({ what, notes, sorts: ms / sort, ms });

for (const count of [16_000, 32_000]) {
  const arrangement = made(count);
  const [part] = arrangement.parts as [Part];
  const all = selectionOf(
    1,
    part.notes.map((note) => note.id),
  );
  const sort = sortOf(part.notes);
  const one = selectionOf(1, [part.notes[9]?.id ?? 1]);
  const moved = moveNotes(arrangement, all, { byTicks: 10, bySemitones: 1 });
  if (!moved) throw new Error('nothing to time');
  row(
    'Select all of this pitch, all selected',
    count,
    turns(sort, () => samePitches(arrangement, all, [part])),
  );
  row(
    'Move all notes',
    count,
    turns(sort, () => moveNotes(arrangement, all, { byTicks: 10, bySemitones: 1 })),
  );
  row(
    'Move one note',
    count,
    turns(sort, () => moveNotes(arrangement, one, { byTicks: 10, bySemitones: 0 })),
  );
  row(
    'Apply an Edit of all notes',
    count,
    turns(sort, () => applyEdit(arrangement, moved)),
  );
  row(
    'Undo it',
    count,
    turns(sort, () => applyEdit(arrangement, invertEdit(moved))),
  );
}

// All notes of many parts, as one selection and one Edit.
{
  const arrangement = madeScoreOf(63, 1016);
  const { parts } = arrangement;
  const all = selectionWhere(parts, () => true);
  const count = selectionSize(all);
  const sort = sortOf(parts.flatMap((part) => part.notes));
  const works: readonly (readonly [string, () => Edit | null])[] = [
    ['move', () => moveNotes(arrangement, all, { byTicks: 10, bySemitones: 1 })],
    ['trim', () => trimNotes(arrangement, all, 'end', -5)],
    ['louder', () => changeVelocities(arrangement, all, { by: 5 })],
  ];
  row(
    'Select all of 63 parts',
    count,
    turns(sort, () => selectionSize(selectionWhere(parts, () => true))),
  );
  for (const [what, work] of works) {
    const edit = work();
    if (!edit) throw new Error('nothing to time');
    row(`All of 63 parts: ${what}`, count, turns(sort, work));
    row(
      `All of 63 parts: ${what}, carried out and the selection mapped`,
      count,
      turns(sort, () => [applyEdit(arrangement, edit), mapSelection(all, edit)]),
    );
    const after = applyEdit(arrangement, edit);
    row(
      `All of 63 parts: ${what}, undone`,
      count,
      turns(sort, () => applyEdit(after, invertEdit(edit))),
    );
  }
}

// Sentences over many parts: what is counted while they are written, and what carries them out.
{
  const arrangement = madeScoreOf(63, 1016);
  const { parts } = arrangement;
  const reach = parts.map((part) => part.id);
  const all = selectionWhere(parts, () => true);
  const scene = { arrangement, reach, selection: all, onlyShown: null };
  const count = selectionSize(all);
  const sort = sortOf(parts.flatMap((part) => part.notes));
  const where = (kind: ConditionKind): Condition => newCondition(kind);
  const sentences: readonly (readonly [string, readonly Condition[]])[] = [
    ['velocity', [where('velocity')]],
    ['on a beat', [where('onBeat')]],
    ['place in its chord', [where('chord')]],
    ['sticking out', [where('sticksOut')]],
    ['near another start', [where('neighbour')]],
  ];
  for (const [what, way] of sentences) {
    const lines = [{ where: [way], do: [newChange('addVelocity')] }];
    row(
      `A sentence on 63 parts counted: ${what}`,
      count,
      turns(sort, () => countSentence(scene, { name: '', lines })),
    );
  }
  const lines = [{ where: [], do: [newChange('addVelocity')] }];
  row(
    'A sentence carried out on all of 63 parts',
    count,
    turns(sort, () => runSentence(scene, { name: '', lines })),
  );
  const four = reach.slice(0, 4);
  const chords = selectionWhere(parts.slice(4, 20), () => true);
  const dealt = selectionSize(chords);
  row(
    'Deal out to four parts',
    dealt,
    turns(sortOf(parts.slice(4, 20).flatMap((part) => part.notes)), () =>
      dealOut(arrangement, chords, { targets: four, fewer: 'rest', more: 'stay', keep: false }),
    ),
  );
}

/** A few hundred notes, one of them held, or one of them far away: bars must cost next to nothing. */
const long = (bars: number) => {
  const arrangement = made(300);
  const [part] = arrangement.parts as [Part];
  const first = part.notes[0] as Note;
  const held: Part = {
    ...part,
    instrument: 'piano',
    events: [],
    notes: [{ ...first, duration: ticks(bars * 1920) }, ...part.notes.slice(1)],
  };
  return { ...arrangement, parts: [held] };
};
const silences = [20, 5000].map((bars) => {
  const arrangement = long(bars);
  const [part] = arrangement.parts as [Part];
  const maps = writtenMaps(arrangement);
  const plan = () => {
    const own = writtenMaps(arrangement);
    return runPlan(part, arrangement.ppq, { ...own, bars: [...own.bars] }, planOf(part));
  };
  const written = runPlan(part, arrangement.ppq, maps);
  return { bars, plan, checks: () => findingsOf(arrangement, part, written) };
});
const silent = turns(...silences.flatMap(({ plan, checks }) => [plan, checks]));

const score = madeScoreOf(63, 1016);
const maps = writtenMaps(score);
const layers = score.parts.map((part) => runPlan(part, score.ppq, maps));
const bars = maps.bars.slice(20, 29);
const [from, to] = [bars[0]?.start ?? 0, bars[8]?.end ?? 0];
const spelled = turns(
  () => readPitches(score, layers),
  () => readPitches(score, layers, stretchesShown(layers.slice(0, 1), from, to)),
);
const [, , output] = process.argv;
const result = {
  rows,
  silences: silences.map(({ bars: count }, index) => ({
    bars: count,
    plan: silent[index * 2],
    checks: silent[index * 2 + 1],
  })),
  spelled,
};
if (output) writeFileSync(output, JSON.stringify(result));
console.log(result);
