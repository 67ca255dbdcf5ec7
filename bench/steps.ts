/** Times each step and check on growing parts, in multiples of sorting the same notes in the same run. */
import { writeFileSync } from 'node:fs';
import {
  checkOf,
  FINDING_KINDS,
  findingsOf,
  median as middleOf,
  type Note,
  type Part,
  type PlanStep,
  planOf,
  planStep,
  playedContext,
  READY_PLANS,
  runPlan,
  runStep,
  STEP_IDS,
  type StepId,
  stepById,
  ticks,
  writtenMaps,
} from '@crispfold/core';
import { made } from './made.js';

const SIZES = [28_000, 56_000, 112_000];
const RUNS = 9;

/** Warm runs go on for this long (milliseconds), so that the compiler has done its work. */
const WARM_UP = 300;

const median = (times: readonly number[]): number => middleOf(times) ?? Number.NaN;

const once = (run: () => unknown): number => {
  const start = performance.now();
  run();
  return performance.now() - start;
};

/** Its own order, which nothing else uses: the sort is then as quick as the compiler can make it. */
const byStartAndPitch = (a: Note, b: Note): number => a.onset - b.onset || a.pitch - b.pitch;

interface Timed {
  readonly time: number;
  readonly sorts: number;
}

/** One size of part, and everything that is timed on it by name. */
interface Piece {
  readonly notes: number;
  readonly sort: () => unknown;
  readonly runs: ReadonlyMap<string, () => unknown>;
}

/** Notes in an order that no sort finds ready. */
const shuffled = (notes: readonly Note[]): Note[] => {
  let seed = 3;
  const result = [...notes];
  for (let index = result.length - 1; index > 0; index -= 1) {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    const other = Math.floor((seed / 4294967296) * (index + 1));
    [result[index], result[other]] = [result[other] as Note, result[index] as Note];
  }
  return result;
};

/** Parameters with which a step has work to do on any part, where its defaults leave all as it is. */
const AT_WORK: { readonly [step in StepId]?: PlanStep } = {
  transpose: planStep('transpose', { semitones: 1 }),
  velocityRange: planStep('velocityRange', { floor: 70, ceiling: 90 }),
  velocityScale: planStep('velocityScale', { factor: 1.1, tilt: 5, vary: 3 }),
  everyNth: planStep('everyNth', { n: 2 }),
  stretch: planStep('stretch', { ratio: 150 }),
  follow: planStep('follow', { part: 2 }),
};
const atWork = (step: StepId): PlanStep => AT_WORK[step] ?? planStep(step);
const newIds = () => {
  let next = 1_000_000;
  return () => next++;
};

const pieceOf = (size: number): Piece => {
  // Another part, a little late, for what follows or compares.
  const [own] = made(size).parts as [Part];
  const late = own.notes.map((note) => ({ ...note, id: note.id + 1_000_000, onset: ticks(note.onset + 9) }));
  const arrangement = { ...made(size), parts: [own, { ...own, id: 2, name: 'Late', notes: late }] };
  const part = arrangement.parts[0] as Part;
  const maps = writtenMaps(arrangement);
  const context = playedContext(arrangement, part);
  const mixed = shuffled(part.notes);
  const written = runPlan(part, arrangement.ppq, maps, READY_PLANS.chords);
  const input = { arrangement, part, notes: part.notes, context, written };
  // What was worked out hangs on the list of bars: another one has it worked out anew.
  const runs = new Map<string, () => unknown>([
    ['plan', () => runPlan(part, arrangement.ppq, { ...maps, bars: [...maps.bars] }, planOf(part))],
    ['checks', () => findingsOf(arrangement, part, written)],
  ]);
  for (const step of STEP_IDS) {
    runs.set(`step ${step}`, () =>
      runStep(atWork(step), part.notes, { ...context, bars: [...context.bars], newId: newIds() }),
    );
  }
  for (const kind of FINDING_KINDS) runs.set(`check ${kind}`, () => checkOf(kind).run(input));
  return { notes: part.notes.length, sort: () => [...mixed].sort(byStartAndPitch), runs };
};

const pieces = SIZES.map(pieceOf);

/**
 * Medians of a few warm runs, in milliseconds and in sorts, size by size. All sizes and their sorts take turns: a machine
 * that slows down then slows all of them.
 */
const timed = (name: string): Timed[] => {
  const own = pieces.map(({ runs, sort }) => ({ run: runs.get(name) as () => unknown, sort }));
  for (const { run } of own) for (const began = performance.now(); performance.now() - began < WARM_UP; ) run();
  const taken = own.map(() => ({ times: [] as number[], sorts: [] as number[] }));
  for (let turn = 0; turn < RUNS; turn += 1) {
    own.forEach(({ run, sort }, index) => {
      taken[index]?.sorts.push(once(sort));
      taken[index]?.times.push(once(run));
    });
  }
  return taken.map(({ times, sorts }) => ({ time: median(times), sorts: median(times) / median(sorts) }));
};

// The compiler meets every step before anything counts.
const small = pieceOf(5000);
for (let turn = 0; turn < 5; turn += 1) for (const run of [small.sort, ...small.runs.values()]) run();

const rows: { readonly name: string; readonly sizes: readonly Timed[] }[] = [
  { name: '**the default plan**', sizes: timed('plan') },
  { name: '**all checks**', sizes: timed('checks') },
  ...STEP_IDS.map((step) => ({ name: stepById(step).name, sizes: timed(`step ${step}`) })),
  ...FINDING_KINDS.map((kind) => ({ name: checkOf(kind).name, sizes: timed(`check ${kind}`) })),
];
const sorts = pieces.map(({ sort }) => median(Array.from({ length: RUNS }, () => once(sort))));
const [, , output] = process.argv;
if (output) writeFileSync(output, JSON.stringify({ notes: pieces.map(({ notes }) => notes), sorts, rows }));
for (const { name, sizes } of rows.slice(0, 2)) {
  process.stdout.write(`${name}: ${sizes.map((size) => `${size.sorts.toFixed(1)} sorts`).join(', ')}\n`);
}
