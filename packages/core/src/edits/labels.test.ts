import { describe, expect, it } from 'vitest';
import { labelFor } from './labels.js';

const counts = (parts: number, name = 'Flute') =>
  Array.from({ length: parts }, (_, k) => ({ part: { name: `${name} ${k + 1}` }, count: k + 1 }));

describe('what the history calls a change', () => {
  it('says how many in which part', () => {
    expect(labelFor('Move', counts(1))).toBe('Move: 1 note in Flute 1');
    expect(labelFor('Move', counts(2))).toBe('Move: 1 note in Flute 1, 2 in Flute 2');
    expect(labelFor('Move', counts(6))).toContain('6 in Flute 6');
  });

  it('names the first of many parts and counts the rest, in one line whatever they are called', () => {
    expect(labelFor('Move', counts(7))).toBe(
      'Move: 1 note in Flute 1, 2 in Flute 2, 3 in Flute 3, 4 in Flute 4, 5 in Flute 5 and 13 in 2 other parts',
    );
    // The server takes labels of 300 characters.
    expect(labelFor('Settle lengths', counts(100, 'A very long name of a part '.repeat(9))).length).toBeLessThan(300);
  });
});
