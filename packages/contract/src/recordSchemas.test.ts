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
    { kind: 'hairpin', noteId: 1, to: 2, way: 'softer' },
    { kind: 'dynamic', noteId: 1, dynamic: 'sfz' },
    { kind: 'words', noteId: 1, text: 'dolce' },
    { kind: 'held', noteId: 1 },
    // Of a note that a step of the plan made.
    { kind: 'tie', noteId: FIRST_UNUSABLE_ID + 5 },
    { kind: 'pageBreak', bar: 0 },
    { kind: 'clef', bar: 3, staff: 2, clef: 'alto' },
  ])('are taken: $kind', (override) => {
    expect(taken(override)).toBe(true);
    // Neither with a field that is not theirs, nor without one that is.
    expect(taken({ ...override, evil: 1 })).toBe(false);
    const last = Object.keys(override).pop() as string;
    expect(taken({ ...override, [last]: undefined })).toBe(false);
  });

  it.each([
    { kind: 'voice', noteId: 1, voice: 5 },
    { kind: 'spelling', noteId: 1, step: 'H', alter: 0 },
    { kind: 'spelling', noteId: 1, step: 'C', alter: 3 },
    { kind: 'mark', noteId: 1, mark: 'smile', on: true },
    { kind: 'words', noteId: 1, text: 'x'.repeat(5000) },
    { kind: 'tie', noteId: 0 },
    { kind: 'clef', bar: -1, staff: 1, clef: 'bass' },
    { kind: 'nothing', noteId: 1 },
    null,
  ])('are refused: %o', (override) => {
    expect(taken(override)).toBe(false);
  });
});
