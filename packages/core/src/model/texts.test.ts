import { describe, expect, it } from 'vitest';
import { isWholeText, keptText } from './texts.js';

describe('a text that is kept', () => {
  it('is cut between characters, and holds no half of one', () => {
    expect(keptText('ab😀', 3)).toBe('ab');
    expect(keptText('ab😀', 4)).toBe('ab😀');
    expect(keptText('a\ud83d b', 9)).toBe('a\ufffd b');
    expect(keptText('plain', 9)).toBe('plain');
  });

  it('is known to be whole or not', () => {
    expect([isWholeText('Lanterns 😀'), isWholeText('\ude00'), isWholeText('')]).toEqual([true, false, true]);
  });
});
