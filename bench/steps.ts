/** Times each step and check on growing parts, in multiples of sorting the same notes in the same run. */
import { writeFileSync } from 'node:fs';
import {
  checkOf,
  FINDING_KINDS,
  findingsOf,
  type Note,
  type Part,
  planOf,
  playedContext,
  READY_PLANS,
  runPlan,
  STEP_IDS,
  stepById,
  writtenMaps,
} from '@crispfold/core';
import { made } from './made.js';

const SIZES = [28_000, 56_000, 112_000];
const RUNS = 9;

/** Warm runs go on for this long (milliseconds), so that the compiler has done its work. */
const WARM_UP = 300;

const median = (times: readonly number[]): number => [...times].sort((a, b) => a - b)[times.length >> 1] as number;

const once = (run: () => unknown): number => {
  const start = performance.now();
  run();
  return performance.now() - start;
};

/**
 * Median of a few warm runs, in milliseconds, and in sorts: runs and sorts take turns, so that a machine that slows down
 * slows both.
 */
const timed = (run: () => unknown, sort: () => unknown): Timed => {
  for (const began = performance.now(); performance.now() - began < WARM_UP; ) run();
  const sorts: number[] = [];
  const times: number[] = [];
  for (let turn = 0; turn < RUNS; turn += 1) {
    sorts.push(once(sort));
    times.push(once(run));
  }
  return { time: median(times), sorts: median(times) / median(sorts) };
};

/** Its own order, which nothing else uses: the sort is then as quick as the compiler can make it. */
const byStartAndPitch = (a: Note, b: Note): number => a.onset - b.onset || a.pitch - b.pitch;

interface Timed {
  readonly time: number;
  readonly sorts: number;
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

const measured = (size: number) => {
  const arrangement = made(size);
  const part = arrangement.parts[0] as Part;
  const maps = writtenMaps(arrangement);
  const context = playedContext(arrangement, part);
  const mixed = shuffled(part.notes);
  const sort = () => [...mixed].sort(byStartAndPitch);
  const plan = timed(() => runPlan(part, arrangement.ppq, maps, planOf(part)), sort);
  const steps = STEP_IDS.map((step) => {
    const { run, defaults, name } = stepById(step);
    return { name, ...timed(() => run(part.notes, context, defaults), sort) };
  });
  const written = runPlan(part, arrangement.ppq, maps, READY_PLANS.chords);
  const input = { arrangement, part, notes: part.notes, context, written };
  const checks = FINDING_KINDS.map((kind) => ({
    name: checkOf(kind).name,
    ...timed(() => checkOf(kind).run(input), sort),
  }));
  const findings = timed(() => findingsOf(arrangement, part, written), sort);
  return { notes: part.notes.length, sort: timed(sort, sort).time, plan, findings, steps, checks };
};

// The first size is measured twice: the compiler meets every step before anything counts.
measured(SIZES[0] as number);
const results = SIZES.map(measured);
const [, , output] = process.argv;
if (output) writeFileSync(output, JSON.stringify(results));
for (const { notes, sort, plan, findings } of results) {
  process.stdout.write(
    `${notes} notes: sort ${sort.toFixed(1)} ms, plan ${plan.sorts.toFixed(1)} sorts, checks ${findings.sorts.toFixed(1)} sorts\n`,
  );
}
