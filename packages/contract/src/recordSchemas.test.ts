import { type Edit, FIRST_UNUSABLE_ID, type Note, ticks } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { editSchema, journalBodySchema } from './recordSchemas.js';

const note = (id: number): Note => ({
  id,
  pitch: 60,
  onset: ticks(0),
  duration: ticks(480),
  velocity: 80,
  channel: 0,
});
const bodyWith = (edit: Edit) => ({ baseRevision: 0, entries: [{ kind: 'edit', edit }] });
const drawing = (id: number): Edit => ({
  label: 'Draw',
  changes: [{ kind: 'notes', partId: 1, added: [note(id)], removed: [], changed: [] }],
});

describe('records on their way to the server', () => {
  it('have note ids below those of notes that a plan makes', async () => {
    await expect(journalBodySchema.isValid(bodyWith(drawing(FIRST_UNUSABLE_ID - 1)))).resolves.toBe(true);
    await expect(journalBodySchema.isValid(bodyWith(drawing(FIRST_UNUSABLE_ID)))).resolves.toBe(false);
  });
});

describe('corrections of the page', () => {
  const edit = (added: unknown) => ({
    label: 'x',
    changes: [{ kind: 'overrides', partId: 1, added: [added], removed: [], changed: [] }],
  });
  const taken = (override: unknown) => editSchema.isValidSync(edit(override), { strict: true });

  it.each([
    { kind: 'spelling', noteId: 1, step: 'C', alter: 1 },
    { kind: 'voice', noteId: 1, voice: 4 },
    { kind: 'mark', noteId: 1, mark: 'fermata', on: true },
    { kind: 'notehead', noteId: 1, head: 'diamond' },
    { kind: 'stem', noteId: 1, way: 'up' },
    { kind: 'beam', noteId: 1, joined: false },
    { kind: 'slur', noteId: 1, to: 2 },
    { kind: 'tuplet', noteId: 1, from: 0, length: 10080, actual: 9, normal: 8 },
    { kind: 'glissando', noteId: 1, to: 2 },
    { kind: 'hairpin', noteId: 1, to: 2, way: 'softer' },
    { kind: 'dynamic', noteId: 1, dynamic: 'sfz' },
    { kind: 'words', noteId: 1, text: 'dolce' },
    { kind: 'held', noteId: 1 },
    { kind: 'grace', noteId: 1, to: 2 },
    { kind: 'swing', bar: 3, swing: { percent: 62.5, pair: 'eighths' } },
    { kind: 'swing', bar: 9, swing: 'even' },
    // Of a note that a step of the plan made.
    { kind: 'tie', noteId: FIRST_UNUSABLE_ID + 5 },
    { kind: 'pageBreak', bar: 0 },
    { kind: 'clef', bar: 3, staff: 2, clef: 'alto' },
    { kind: 'nudge', bar: 3, mark: 'tempo', x: -4, y: 12 },
    { kind: 'pedal', noteId: 1, to: 4 },
  ])('are taken: $kind', (override) => {
    expect(taken(override)).toBe(true);
    // Neither with a field that is not theirs, nor without one that is.
    expect(taken({ ...override, evil: 1 })).toBe(false);
    const last = Object.keys(override).pop() as string;
    expect(taken({ ...override, [last]: undefined })).toBe(false);
  });

  it('hold signs with their note, and nothing that is none', () => {
    const held = (signs: unknown) => taken({ kind: 'held', noteId: 1, signs });
    const grace = { id: 9, pitch: 71, velocity: 60, at: -500, duration: 400 };
    expect(held({ marks: ['trill'], graces: [grace], dynamic: 'mf', hairpin: { to: 4, way: 'louder' } })).toBe(true);
    for (const wrong of [
      { graces: [{ ...grace, pitch: 128 }] },
      { dynamic: 'loud' },
      { marks: ['smile'] },
      { evil: 1 },
    ])
      expect(held(wrong)).toBe(false);
  });

  it.each([
    { kind: 'voice', noteId: 1, voice: 5 },
    { kind: 'spelling', noteId: 1, step: 'H', alter: 0 },
    { kind: 'spelling', noteId: 1, step: 'C', alter: 3 },
    { kind: 'mark', noteId: 1, mark: 'smile', on: true },
    { kind: 'words', noteId: 1, text: 'x'.repeat(5000) },
    { kind: 'tie', noteId: 0 },
    { kind: 'clef', bar: -1, staff: 1, clef: 'bass' },
    { kind: 'nudge', bar: 3, mark: 'title', x: 0, y: 0 },
    { kind: 'nudge', bar: 3, mark: 'tempo', x: 0, y: 1e6 },
    { kind: 'nothing', noteId: 1 },
    null,
  ])('are refused: %o', (override) => {
    expect(taken(override)).toBe(false);
  });
});

describe('ramps', () => {
  const taken = (change: unknown) => editSchema.isValidSync({ label: 'x', changes: [change] }, { strict: true });
  const event = { id: 1, kind: 'controller', tick: 0, channel: 0, controller: 11, value: 5 };
  const events = (lists: object) => ({ kind: 'events', partId: 1, added: [], removed: [], changed: [], ...lists });

  it('of messages are taken with their ease, put on and taken off', () => {
    expect(taken(events({ added: [{ ...event, ramp: -0.5 }] }))).toBe(true);
    expect(taken(events({ changed: [{ before: { id: 1, ramp: 0 }, after: { id: 1, ramp: null } }] }))).toBe(true);
    expect(taken(events({ added: [{ ...event, ramp: 2 }] }))).toBe(false);
    expect(taken(events({ added: [{ id: 1, kind: 'program', tick: 0, channel: 0, program: 3, ramp: 0 }] }))).toBe(
      false,
    );
  });

  it('of the tempo say where they lead', () => {
    const tempos = (ramp: unknown) => ({
      kind: 'arrangementFields',
      before: { tempos: [{ tick: 0, microsecondsPerQuarter: 500_000 }] },
      after: { tempos: [{ tick: 0, microsecondsPerQuarter: 500_000, ramp }] },
    });
    expect(taken(tempos({ to: 1_000_000, ease: 1 }))).toBe(true);
    expect(taken(tempos(undefined))).toBe(true);
    expect(taken(tempos({ to: 0, ease: 0 }))).toBe(false);
    expect(taken(tempos({ to: 1e9, ease: 0 }))).toBe(false);
    expect(taken(tempos({ to: 5, ease: 0, evil: 1 }))).toBe(false);
  });
});
