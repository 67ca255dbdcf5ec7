/** Times each step and check on growing parts, in multiples of sorting the same notes in the same run. */
import { writeFileSync } from 'node:fs';
import {
  type Arrangement,
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
  ticks,
  writtenMaps,
} from '@crispfold/core';

const SIZES = (process.env.SIZES ?? '28000,56000,112000').split(',').map(Number);
const RUNS = Number(process.env.RUNS ?? 5);

/** One part of `count` notes: a line with human timing, doubles, specks, chords now and then, and a pedal. */
const made = (count: number): Arrangement => {
  let seed = 11;
  const random = () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return seed / 4294967296;
  };
  const notes: Note[] = [];
  let onset = 0;
  while (notes.length < count) {
    const slot = random() < 0.7 ? 240 : random() < 0.5 ? 480 : 120;
    const tones = random() < 0.2 ? 3 : 1;
    const at = Math.max(0, Math.round(onset + (random() - 0.5) * 24));
    for (let tone = 0; tone < tones; tone += 1) {
      notes.push({
        id: notes.length + 1,
        pitch: 52 + Math.floor(random() * 24) + tone * 4,
        onset: ticks(at + Math.round(random() * 8)),
        duration: ticks(random() < 0.02 ? 12 : Math.round(slot * (0.78 + random() * 0.27))),
        velocity: 60 + Math.floor(random() * 40),
        channel: 0,
      });
    }
    onset += slot;
  }
  const events = Array.from({ length: Math.floor(onset / 1920) * 2 }, (_, k) => ({
    kind: 'controller' as const,
    tick: ticks((k >> 1) * 1920 + (k % 2 === 0 ? 40 : 1860)),
    channel: 0,
    controller: 64,
    value: k % 2 === 0 ? 127 : 0,
  }));
  const part: Part = {
    id: 1,
    name: 'Made',
    instrument: 'vibraphone',
    channel: 0,
    program: 11,
    events,
    notes: notes.sort(compareNotes),
  };
  return {
    title: 'Made',
    ppq: 480,
    tempos: [{ tick: ticks(0), microsecondsPerQuarter: 500_000 }],
    meters: [{ tick: ticks(0), numerator: 4, denominator: 4 }],
    keys: [],
    markers: [],
    parts: [part],
    silentTracks: [],
    nextNoteId: notes.length + 1,
    nextPartId: 2,
  };
};

/** Median of a few runs after one, in milliseconds. */
const timed = (run: () => unknown): number => {
  run();
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
