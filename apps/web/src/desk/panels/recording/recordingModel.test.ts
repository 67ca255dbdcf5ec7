import { describe, expect, it } from 'vitest';
import { offsetTyped } from './recordingModel.js';

describe('the recording panel', () => {
  it('reads where the recording begins, and by how much it is moved', () => {
    expect(offsetTyped('1.25', 9)).toBe(1.25);
    expect(offsetTyped(' -0,5 s', 9)).toBe(-0.5);
    expect(offsetTyped('−2', 9)).toBe(-2);
    expect(offsetTyped('+0.5', 9)).toBe(9.5);
    expect(offsetTyped('+ -0.5', 9)).toBe(8.5);
  });

  it('reads nothing else', () => {
    for (const text of ['', 'early', '1.2.3', '1 m', '.']) expect(offsetTyped(text, 0)).toBeNull();
  });
});
