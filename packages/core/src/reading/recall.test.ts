import { describe, expect, it } from 'vitest';
import { createRecall, sameItems } from './recall.js';

const newRecall = (most: number) => {
  let made = 0;
  const recall = createRecall<readonly number[], number>({
    same: sameItems,
    sizeOf: (about) => about.length,
    most,
  });
  return {
    find: (piece: object, about: readonly number[], holds?: (found: number) => boolean) =>
      recall(piece, about, () => ++made, holds),
  };
};

describe('what was found before', () => {
  it('is found again for what is the same, and not for another piece', () => {
    const [one, other] = [{}, {}];
    const { find } = newRecall(100);
    expect(find(one, [1, 2])).toBe(1);
    expect(find(one, [1, 2])).toBe(1);
    expect(find(one, [1, 3])).toBe(2);
    expect(find(one, [1, 2])).toBe(1);
    expect(find(other, [1, 2])).toBe(3);
  });

  it('gives up the oldest where there is no more room, and keeps the newest whatever its size', () => {
    const piece = {};
    const { find } = newRecall(4);
    find(piece, [1, 1]);
    find(piece, [2, 2]);
    // Asked for again, it is the newest.
    find(piece, [1, 1]);
    find(piece, [3, 3]);
    expect(find(piece, [1, 1])).toBe(1);
    expect(find(piece, [2, 2])).toBe(4);
    expect(find(piece, [9, 9, 9, 9, 9])).toBe(5);
    expect(find(piece, [9, 9, 9, 9, 9])).toBe(5);
    expect(find(piece, [1, 1])).toBe(6);
  });

  it('is found anew where it holds no longer', () => {
    const piece = {};
    const { find } = newRecall(100);
    expect(find(piece, [1])).toBe(1);
    expect(find(piece, [1], (found) => found > 1)).toBe(2);
    // The one that holds is the one that is kept in front.
    expect(find(piece, [1])).toBe(2);
  });

  it('takes lists for the same only where all their items are', () => {
    expect(sameItems([1, 2], [1, 2])).toBe(true);
    expect(sameItems([1, 2], [1])).toBe(false);
    expect(sameItems([1, 2], [2, 1])).toBe(false);
  });
});
