/** Times each step and check on growing parts, in multiples of sorting the same notes in the same run. */
import { writeFileSync } from 'node:fs';
import {
  checkOf,
  compareNotes,
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
const WARM_UP = 700;

/** Median of a few runs, warm, in milliseconds. */
const timed = (run: () => unknown): number => {
  for (const began = performance.now(); performance.now() - began < WARM_UP; ) run();
  const times = Array.from({ length: RUNS }, () => {
    const start = performance.now();
    run();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return times[RUNS >> 1] as number;
};

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

const results = SIZES.map((size) => {
  const arrangement = made(size);
  const part = arrangement.parts[0] as Part;
  const maps = writtenMaps(arrangement);
  const context = playedContext(arrangement, part);
  const mixed = shuffled(part.notes);
  const sort = timed(() => [...mixed].sort(compareNotes));
  const steps = STEP_IDS.map((step) => {
    const { run, defaults } = stepById(step);
    return { name: stepById(step).name, time: timed(() => run(part.notes, context, defaults)) };
  });
  const plan = timed(() => runPlan(part, arrangement.ppq, maps, planOf(part)));
  const written = runPlan(part, arrangement.ppq, maps, READY_PLANS.chords);
  const input = { arrangement, part, notes: part.notes, context, written };
  const checks = FINDING_KINDS.map((kind) => ({
    name: checkOf(kind).name,
    time: timed(() => checkOf(kind).run(input)),
  }));
  const findings = timed(() => findingsOf(arrangement, part, written));
  return { notes: part.notes.length, sort, plan, findings, steps, checks };
});
const [, , output] = process.argv;
if (output) writeFileSync(output, JSON.stringify(results));
for (const { notes, sort, plan, findings } of results) {
  process.stdout.write(
    `${notes} notes: sort ${sort.toFixed(1)} ms, plan ${(plan / sort).toFixed(1)} sorts, checks ${(findings / sort).toFixed(1)} sorts\n`,
  );
}
