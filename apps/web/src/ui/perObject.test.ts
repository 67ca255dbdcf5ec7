import { describe, expect, it, vi } from 'vitest';
import { perObject } from './perObject.js';

describe('what is worked out once for each object', () => {
  it('is worked out again for another object, and for other things asked with it', () => {
    const make = vi.fn((list: readonly number[], factor: number) => list.map((one) => one * factor));
    const scaled = perObject(make);
    const [first, second] = [
      [1, 2],
      [1, 2],
    ];
    expect(scaled(first, 2)).toBe(scaled(first, 2));
    expect(make).toHaveBeenCalledTimes(1);
    expect(scaled(second, 2)).toEqual([2, 4]);
    expect(make).toHaveBeenCalledTimes(2);
    expect(scaled(first, 3)).toEqual([3, 6]);
    // The last of them is kept: the one before is worked out anew.
    expect(scaled(first, 2)).toEqual([2, 4]);
    expect(make).toHaveBeenCalledTimes(4);
  });

  it('may be nothing, which is worked out once too', () => {
    const make = vi.fn(() => undefined);
    const nothing = perObject(make);
    const key = {};
    nothing(key);
    nothing(key);
    expect(make).toHaveBeenCalledTimes(1);
  });
});
