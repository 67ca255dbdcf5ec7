import { CONDITION_KINDS, CONDITIONS, newCondition } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { inMenu, joinedOf, waysOf, withCondition, without } from './lineModel.js';

const [a, b, c] = [newCondition('velocity'), newCondition('pitch'), newCondition('shorter')];

describe('the conditions of a line', () => {
  it('stand in a row, each way but the first begun by “or”', () => {
    const joined = joinedOf([[a, b], [c]]);
    expect(joined).toEqual([
      { condition: a, or: false },
      { condition: b, or: false },
      { condition: c, or: true },
    ]);
    expect(waysOf(joined)).toEqual([[a, b], [c]]);
    expect(waysOf([])).toEqual([]);
  });

  it('are joined otherwise, changed and taken out one at a time', () => {
    const joined = joinedOf([[a, b], [c]]);
    expect(waysOf(withCondition(joined, 1, { or: true }))).toEqual([[a], [b], [c]]);
    expect(waysOf(withCondition(joined, 2, { condition: a }))).toEqual([[a, b], [a]]);
    expect(waysOf(without(joined, 0))).toEqual([[b], [c]]);
  });

  it('begin a way of their own where the first is left, whatever joined it', () => {
    expect(waysOf(without(joinedOf([[a], [b]]), 0))).toEqual([[b]]);
  });
});

describe('the menu of kinds', () => {
  it('leaves fields open and has no blank before a comma', () => {
    for (const kind of CONDITION_KINDS) {
      const words = inMenu(CONDITIONS[kind].words);
      expect(words).not.toMatch(/ ,|[{}]/);
      expect(words).not.toBe('');
    }
    expect(CONDITION_KINDS.some((kind) => inMenu(CONDITIONS[kind].words).includes('…'))).toBe(true);
  });
});
