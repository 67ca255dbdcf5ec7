import { describe, expect, it } from 'vitest';
import type { Meter } from '../time/meterMap.js';
import { readingCost, splitIntoValues, valueOfLength } from './noteValues.js';
import { treeOf, WHOLE, zonesOf } from './zones.js';

const Q = WHOLE / 4;
const meter = (name: string): Meter => {
  const [numerator, denominator] = name.split('/').map(Number) as [number, number];
  return { numerator, denominator };
};
/** "4. 8" for a dotted quarter tied to an eighth; places in quarters. */
const split = (name: string, start: number, end: number, kind: 'note' | 'rest' = 'note'): string =>
  splitIntoValues(treeOf(meter(name)), Math.round(start * Q), Math.round(end * Q), WHOLE, kind)
    .map(({ value }) => `${value.denominator}${'.'.repeat(value.dots)}`)
    .join(' ');

describe('values that stand as one sign (Gould, Behind Bars, 2011; common practice)', () => {
  it.each([
    ['a whole note', '4/4', 0, 4, '1'],
    ['a half note on the half bar', '4/4', 2, 4, '2'],
    ['a half note in the middle of 4/4', '4/4', 1, 3, '2'],
    ['a dotted half that begins the bar', '4/4', 0, 3, '2.'],
    ['a dotted half that ends the bar', '4/4', 1, 4, '2.'],
    ['a dotted quarter before an eighth', '4/4', 0, 1.5, '4.'],
    ['a dotted quarter after an eighth', '4/4', 2.5, 4, '4.'],
    ['a quarter between two eighths', '4/4', 0.5, 1.5, '4'],
    ['a dotted eighth before a sixteenth', '4/4', 1, 1.75, '8.'],
    ['an eighth between two sixteenths', '4/4', 1.25, 1.75, '8'],
    ['two beats of 3/4 from the first', '3/4', 0, 2, '2'],
    ['two beats of 3/4 from the second', '3/4', 1, 3, '2'],
    ['a whole bar of 3/4', '3/4', 0, 3, '2.'],
    ['a dotted beat of 6/8', '6/8', 0, 1.5, '4.'],
    ['a whole bar of 6/8', '6/8', 0, 3, '2.'],
    ['two eighths of a dotted beat', '6/8', 1.5, 2.5, '4'],
    ['the first dotted beats of 9/8', '9/8', 0, 3, '2.'],
    ['half a bar of 12/8', '12/8', 3, 6, '2.'],
    ['a group of 5/8', '5/8', 0, 1, '4'],
  ])('%s', (_name, name, start, end, values) => {
    expect(split(name, start, end)).toBe(values);
  });
});

describe('values that are tied so that the beat stays visible', () => {
  it.each([
    ['across the middle of 4/4', '4/4', 1.5, 2.5, '8 8'],
    ['from the second beat over the middle', '4/4', 1, 2.5, '4 8'],
    ['a half note off the beat', '4/4', 0.5, 2.5, '4. 8'],
    ['across the dotted beats of 6/8', '6/8', 1, 2, '8 8'],
    ['four eighths from the start of 6/8', '6/8', 0, 2, '4. 8'],
    ['across the groups of 5/8', '5/8', 0.5, 1.5, '8 8'],
    ['a sixteenth before the beat', '4/4', 0.75, 2, '16 4'],
    ['five sixteenths', '4/4', 0, 1.25, '4 16'],
  ])('%s', (_name, name, start, end, values) => {
    expect(split(name, start, end)).toBe(values);
  });
});

describe('rests', () => {
  it.each([
    ['a half bar of 4/4 is one rest', '4/4', 2, 4, '2'],
    ['never a half rest in the middle', '4/4', 1, 3, '4 4'],
    ['never dotted in simple meter', '4/4', 0, 1.5, '4 8'],
    ['the rest of the beat first', '4/4', 0.5, 2, '8 4'],
    ['no half rest in 3/4', '3/4', 1, 3, '4 4'],
    ['a dotted rest for a dotted beat', '6/8', 1.5, 3, '4.'],
    ['the first two thirds of a dotted beat', '6/8', 0, 1, '4'],
    ['but its last two thirds apart', '6/8', 0.5, 1.5, '8 8'],
  ])('%s', (_name, name, start, end, values) => {
    expect(split(name, start, end, 'rest')).toBe(values);
  });
});

describe('values and their cost', () => {
  it('knows plain and dotted lengths, and no others', () => {
    expect(valueOfLength(Q, WHOLE)).toEqual({ denominator: 4, dots: 0 });
    expect(valueOfLength(Q * 1.5, WHOLE)).toEqual({ denominator: 4, dots: 1 });
    expect(valueOfLength(Q * 1.25, WHOLE)).toBeUndefined();
  });

  it('costs a tie and a dot more than a plain value', () => {
    const tree = treeOf(meter('4/4'));
    const plain = readingCost(tree, 0, Q, WHOLE, 'note');
    const dotted = readingCost(tree, 0, Q * 1.5, WHOLE, 'note');
    const tied = readingCost(tree, 0, Q * 1.25, WHOLE, 'note');
    expect(plain).toBeLessThan(dotted);
    expect(dotted).toBeLessThan(tied);
  });
});

describe('tuplets', () => {
  const ratios = (name: string, places: number[], length = 4) =>
    zonesOf(
      meter(name),
      length * Q,
      places.map((place) => Math.round(place * Q)),
    ).map((zone) =>
      zone.ratio
        ? `${zone.start / Q}-${zone.end / Q} ${zone.ratio.actual}:${zone.ratio.normal}`
        : `${zone.start / Q}-${zone.end / Q}`,
    );

  it('take the shortest span that holds them', () => {
    expect(ratios('4/4', [0, 1 / 3, 2 / 3, 1, 2])).toEqual(['0-1 3:2', '1-4']);
  });

  it('span two beats where the thirds of both together are all there is', () => {
    expect(ratios('4/4', [0, 2 / 3, 4 / 3, 2])).toEqual(['0-2 3:2', '2-4']);
  });

  it('come in fives and sevens', () => {
    expect(ratios('4/4', [0, 0.2, 0.8, 1 + 1 / 7])).toEqual(['0-1 5:4', '1-2 7:4', '2-4']);
  });

  it('come in twos where a dotted beat is halved', () => {
    expect(ratios('6/8', [0, 0.75, 1.5], 3)).toEqual(['0-1.5 2:3', '1.5-3']);
  });

  it('are not needed for sixteenths', () => {
    expect(ratios('4/4', [0, 0.25, 0.5, 0.75])).toEqual(['0-4']);
  });
});
