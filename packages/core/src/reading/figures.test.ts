import { describe, expect, it } from 'vitest';
import { figureCosts } from './figures.js';
import { type Division, SIMPLE_BEAT } from './gridModel.js';

const [one, two, four] = SIMPLE_BEAT as unknown as readonly [Division, Division, Division];
const times = (count: number, division: Division, struck: number) => Array(count).fill({ division, struck, weight: 1 });

describe('what a figure costs', () => {
  it('is nothing where no beat was read', () => {
    const cost = figureCosts([]);
    for (const struck of [0b0001, 0b0101, 0b1111]) expect(cost(four, struck, null)).toBeCloseTo(0);
    expect(cost(one, 1, null)).toBeCloseTo(0);
  });

  it('falls for what a part plays, and rises for what it does not, by division', () => {
    const cost = figureCosts([...times(12, four, 0b1101), ...times(4, four, 0b1111)]);
    expect(cost(four, 0b1101, null)).toBeLessThan(cost(four, 0b1111, null));
    expect(cost(four, 0b1111, null)).toBeLessThan(cost(four, 0b0111, null));
    expect(cost(four, 0b1101, null)).toBeLessThan(0);
    expect(cost(four, 0b0111, null)).toBeGreaterThan(1);
    // Nothing was heard of halves.
    expect(cost(two, 0b11, null)).toBeCloseTo(0);
  });

  it('is bounded both ways: a part may always play something new', () => {
    const cost = figureCosts(times(1000, four, 0b1101));
    expect(cost(four, 0b0111, null)).toBe(5);
    expect(cost(four, 0b1101, null)).toBeGreaterThan(-5);
  });

  it('tells an even division from a swung one with as many points', () => {
    const swung: Division = { points: 2, price: 1, family: 'swung', at: [0, 0.62, 1] };
    const cost = figureCosts(times(10, two, 0b11));
    expect(cost(two, 0b11, null)).toBeLessThan(0);
    expect(cost(swung, 0b11, null)).toBeCloseTo(0);
  });

  it('leaves out how the beat itself was read: no beat is a witness for itself', () => {
    const once = { division: four, struck: 0b0111, weight: 1 };
    const cost = figureCosts([...times(6, four, 0b1101), once]);
    expect(cost(four, 0b0111, once)).toBeCloseTo(figureCosts(times(6, four, 0b1101))(four, 0b0111, null));
    expect(cost(four, 0b0111, once)).toBeGreaterThan(cost(four, 0b0111, null));
    // Of another division it says nothing.
    expect(cost(four, 0b0111, { ...once, division: two })).toBe(cost(four, 0b0111, null));
  });

  it('counts what was doubtful less', () => {
    const seldom = (weight: number) =>
      figureCosts([...times(6, four, 0b1101), { division: four, struck: 0b0111, weight }]);
    expect(seldom(0.5)(four, 0b0111, null)).toBeGreaterThan(seldom(1)(four, 0b0111, null));
  });
});
