import { type Edit, FIRST_UNUSABLE_ID, type Note, ticks } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { journalBodySchema } from './recordSchemas.js';

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
