import type { JournalEntry } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { editsInForce, timeInWords } from './unsent.js';

/** Edits by their names, moves by their places; the first stands at place 5 of the history. */
const inForce = (...made: (string | number)[]): string[] => {
  let position = 5;
  const entries = made.map((one) => {
    const entry: JournalEntry =
      typeof one === 'string' ? { kind: 'edit', edit: { label: one, changes: [] } } : { kind: 'goTo', position: one };
    const placed = { entry, position };
    position = typeof one === 'string' ? position + 1 : one;
    return placed;
  });
  return editsInForce(entries).map(({ label }) => label);
};

describe('what is in force of changes that were not saved', () => {
  it.each([
    ['all of them', ['a', 'b'], ['a', 'b']],
    ['what was undone is not', ['a', 'b', 6], ['a']],
    ['what was done again is', ['a', 'b', 5, 7], ['a', 'b']],
    ['what was made after an undo takes its place', ['a', 'b', 6, 'c'], ['a', 'c']],
    ['nothing after going back beyond them', ['a', 'b', 2], []],
    ['nothing of nothing', [], []],
  ])('%s', (_, made, expected) => {
    expect(inForce(...made)).toEqual(expected);
  });

  it('is told by its time, and its day where that is another', () => {
    const now = new Date(2026, 4, 4, 9, 0);
    expect(timeInWords(new Date(2026, 4, 4, 7, 5).toISOString(), now)).toBe('07:05');
    expect(timeInWords(new Date(2026, 4, 3, 21, 40).toISOString(), now)).toBe('21:40 on 3 May');
  });
});
