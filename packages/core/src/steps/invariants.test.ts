import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { endOf } from '../model/arrangement.js';
import type { PlanStep } from '../model/plan.js';
import type { StepContext } from '../reading/context.js';
import type { StepNote } from '../reading/stepNote.js';
import { anyPlanStep } from '../testing/anyParameters.js';
import { cases } from '../testing/cases.js';
import { contextIn, note, pedal } from '../testing/kit.js';
import { planStep, runStep, STEP_IDS, stepById } from './registry.js';

const someNotes = fc.array(
  fc.record({
    pitch: fc.integer({ min: 55, max: 67 }),
    onset: fc.integer({ min: 0, max: 8000 }),
    duration: fc.integer({ min: 0, max: 1500 }),
    velocity: fc.integer({ min: 1, max: 127 }),
    muted: fc.boolean().map((muted) => muted || undefined),
  }),
  { maxLength: 40 },
);
const someMeter = fc.constantFrom([4, 4], [3, 4], [6, 8], [5, 8], [2, 2]);
/** Fewer where the tests are run once for each of hundreds of breaks. */
const RUNS = cases(100);

const key = (notes: readonly StepNote[]): string[] =>
  notes.map((n) => [n.id, n.onset, n.duration, n.pitch, n.velocity, n.staccato ?? ''].join()).sort();
const places = (notes: readonly StepNote[]): string[] =>
  notes.map((n) => [n.onset, n.duration, n.pitch, n.velocity].join()).sort();

describe.each(STEP_IDS)('%s, on any notes in any meter, with any parameters', (id) => {
  const ran = (
    item: fc.Arbitrary<PlanStep>,
    check: (run: (notes: readonly StepNote[]) => ReturnType<typeof runStep>, input: StepNote[]) => void,
  ) =>
    fc.assert(
      fc.property(someNotes, someMeter, item, (drafts, [numerator, denominator], step) => {
        const input = drafts.map((d) =>
          note(d.pitch, d.onset, d.duration, { velocity: d.velocity, ...(d.muted ? { muted: true } : {}) }),
        );
        const context: StepContext = {
          ...contextIn(
            { numerator: numerator as number, denominator: denominator as number },
            { events: pedal(200, 900, 2000, 5000), until: 12_000 },
          ),
          strikesOf: (part) =>
            part === 2 ? [0, 470, 990, 2000, 4100].map((onset, k) => ({ onset, velocity: 60 + 10 * (k % 3) })) : [],
          earlierParts: () => [
            { name: 'Oboe', instrument: contextIn().instrument, notes: [note(60, 480, 480), note(62, 2000, 900)] },
          ],
        };
        check((notes) => runStep(step, notes, context), input);
      }),
      RUNS,
    );
  const any = anyPlanStep(id);

  it('gives the same for the same, in whatever order the notes come', () =>
    ran(any, (run, input) => {
      // Ids of made notes are the run's own.
      expect(places(run([...input].reverse()).notes)).toEqual(places(run(input).notes));
    }));

  // Humanize and Every n-th go on changing; for all others the second time is the proof that the first was whole.
  if (stepById(id).once)
    it('changes nothing the second time with its defaults', () =>
      ran(fc.constant(planStep(id)), (run, input) => {
        const once = run(input).notes;
        expect(key(run(once).notes)).toEqual(key(once));
      }));

  it('makes no note without length, and none before tick 0', () =>
    ran(any, (run, input) => {
      const before = new Map(input.map((n) => [n.id, n]));
      for (const n of run(input).notes) {
        expect(n.onset).toBeGreaterThanOrEqual(0);
        if (before.get(n.id)?.duration !== 0) expect(n.duration).toBeGreaterThan(0);
      }
    }));

  it('keeps pitches and velocities within what MIDI has', () =>
    ran(any, (run, input) => {
      for (const n of run(input).notes) {
        expect(n.pitch).toBeGreaterThanOrEqual(0);
        expect(n.pitch).toBeLessThanOrEqual(127);
        expect(n.velocity).toBeGreaterThanOrEqual(1);
        expect(n.velocity).toBeLessThanOrEqual(127);
      }
    }));

  it('keeps ids, and leaves muted notes as they are', () =>
    ran(any, (run, input) => {
      const ids = new Set(input.map((n) => n.id));
      const { notes } = run(input);
      for (const n of notes) expect(ids.has(n.madeFrom ?? n.id)).toBe(true);
      expect(new Set(notes.map((n) => n.id)).size).toBe(notes.length);
      expect(key(notes.filter((n) => n.muted))).toEqual(key(input.filter((n) => n.muted)));
    }));

  it('has a record with a reason for each note it touched, and no other', () =>
    ran(any, (run, input) => {
      const { notes, changes } = run(input);
      const after = new Map(notes.map((n) => [n.id, n]));
      const touched = new Set(changes.map((change) => change.noteId));
      for (const change of changes) expect(change.reason.length).toBeGreaterThan(3);
      for (const before of input) {
        const now = after.get(before.id);
        const same =
          now &&
          now.onset === before.onset &&
          endOf(now) === endOf(before) &&
          now.velocity === before.velocity &&
          now.pitch === before.pitch;
        if (!same) expect(touched.has(before.id)).toBe(true);
      }
    }));
});
