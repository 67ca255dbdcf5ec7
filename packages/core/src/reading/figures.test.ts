import { describe, expect, it } from 'vitest';
import { figureCosts } from './figures.js';
import { type Division, SIMPLE_BEAT } from './gridModel.js';

const [one, two, four] = SIMPLE_BEAT as unknown as readonly [Division, Division, Division];
const times = (count: number, division: Division, struck: number) => Array(count).fill({ division, struck });

describe('what a figure costs', () => {
  it('is nothing where no beat was read', () => {
    const cost = figureCosts([]);
    for (const struck of [0b0001, 0b0101, 0b1111]) expect(cost(four, struck)).toBeCloseTo(0);
    expect(cost(one, 1)).toBeCloseTo(0);
  });

  it('falls for what a part plays, and rises for what it does not, by division', () => {
    const cost = figureCosts([...times(12, four, 0b1101), ...times(4, four, 0b1111)]);
    expect(cost(four, 0b1101)).toBeLessThan(cost(four, 0b1111));
    expect(cost(four, 0b1111)).toBeLessThan(cost(four, 0b0111));
    expect(cost(four, 0b1101)).toBeLessThan(0);
    expect(cost(four, 0b0111)).toBeGreaterThan(1);
    // Nothing was heard of halves.
    expect(cost(two, 0b11)).toBeCloseTo(0);
  });

  it('is bounded both ways: a part may always play something new', () => {
    const cost = figureCosts(times(1000, four, 0b1101));
    expect(cost(four, 0b0111)).toBe(5);
    expect(cost(four, 0b1101)).toBeGreaterThan(-5);
  });

  it('tells an even division from a swung one with as many points', () => {
    const swung: Division = { points: 2, price: 1, family: 'swung', at: [0, 0.62, 1] };
    const cost = figureCosts(times(10, two, 0b11));
    expect(cost(two, 0b11)).toBeLessThan(0);
    expect(cost(swung, 0b11)).toBeCloseTo(0);
  });
});
