import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { endOf } from '../model/arrangement.js';
import { contextIn, note, pedal } from '../testing/kit.js';
import { STEP_IDS, stepById } from './registry.js';
import type { StepNote } from './step.js';

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
const RUNS = { numRuns: 80 };

const key = (notes: readonly StepNote[]): string[] =>
  notes.map((n) => [n.id, n.onset, n.duration, n.pitch, n.velocity, n.staccato ?? ''].join()).sort();

describe.each(STEP_IDS)('%s, on any notes in any meter', (id) => {
  const step = stepById(id);
  const ran = (check: (input: StepNote[], context: ReturnType<typeof contextIn>) => void) =>
    fc.assert(
      fc.property(someNotes, someMeter, (drafts, [numerator, denominator]) => {
        const input = drafts.map((d) =>
          note(d.pitch, d.onset, d.duration, { velocity: d.velocity, ...(d.muted ? { muted: true } : {}) }),
        );
        check(
          input,
          contextIn(
            { numerator: numerator as number, denominator: denominator as number },
            { events: pedal(200, 900, 2000, 5000), until: 12_000 },
          ),
        );
      }),
      RUNS,
    );

  it('gives the same for the same, in whatever order the notes come', () =>
    ran((input, context) => {
      const once = step.run(input, context, step.defaults).notes;
      const again = step.run([...input].reverse(), context, step.defaults).notes;
      expect(key(again)).toEqual(key(once));
    }));

  // Humanize and Every n-th go on changing; for all others the second time is the proof that the first was whole.
  if (step.once)
    it('changes nothing the second time', () =>
      ran((input, context) => {
        const once = step.run(input, context, step.defaults).notes;
        expect(key(step.run(once, context, step.defaults).notes)).toEqual(key(once));
      }));

  it('makes no note without length, and none before tick 0', () =>
    ran((input, context) => {
      const before = new Map(input.map((n) => [n.id, n]));
      for (const n of step.run(input, context, step.defaults).notes) {
        expect(n.onset).toBeGreaterThanOrEqual(0);
        if (before.get(n.id)?.duration !== 0) expect(n.duration).toBeGreaterThan(0);
      }
    }));

  it('keeps ids, and leaves muted notes as they are', () =>
    ran((input, context) => {
      const ids = new Set(input.map((n) => n.id));
      const { notes } = step.run(input, context, step.defaults);
      for (const n of notes) expect(ids.has(n.madeFrom ?? n.id)).toBe(true);
      expect(new Set(notes.map((n) => n.id)).size).toBe(notes.length);
      expect(key(notes.filter((n) => n.muted))).toEqual(key(input.filter((n) => n.muted)));
    }));

  it('has a record with a reason for each note it touched, and no other', () =>
    ran((input, context) => {
      const { notes, changes } = step.run(input, context, step.defaults);
      const after = new Map(notes.map((n) => [n.id, n]));
      const touched = new Set(changes.map((change) => change.noteId));
      for (const change of changes) expect(change.reason.length).toBeGreaterThan(3);
      for (const before of input) {
        const now = after.get(before.id);
        const same =
          now && now.onset === before.onset && endOf(now) === endOf(before) && now.velocity === before.velocity;
        if (!same) expect(touched.has(before.id)).toBe(true);
      }
    }));
});
