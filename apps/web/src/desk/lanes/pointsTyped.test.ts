import { createMeterMap, type LanePoint } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { placeForPoints, valueForPoints, valuesOf } from './pointsTyped.js';

const PPQ = 480;
const meterMap = createMeterMap([{ tick: 0, numerator: 4, denominator: 4 }] as never, PPQ);
const point = (id: number, tick: number, value: number): LanePoint => ({ id, tick, value, ramp: null }) as LanePoint;
const points = [point(1, 0, 40), point(2, 480, 100.126)];
const volume = { kind: 'controller', controller: 7 } as const;

describe('the value of chosen points', () => {
  it('is one number where they are one, else the least and the highest', () => {
    expect(valuesOf(points)).toBe('40 to 100.13');
    expect(valuesOf([point(1, 0, 40), point(2, 480, 40)])).toBe('40');
  });

  it('is typed as a number for all, or as what is done to each', () => {
    const set = valueForPoints('64', volume, points);
    expect(points.map((one) => set?.change?.(one).value)).toEqual([64, 64]);
    const added = valueForPoints('+10', volume, points);
    expect(points.map((one) => added?.change?.(one).value)).toEqual([50, 110.126]);
    expect(added?.told).toBeNull();
  });

  it('tells how many are held within the bounds', () => {
    expect(valueForPoints('*2', volume, points)?.told).toBe('1 value held within 0 to 127.');
    expect(valueForPoints('-50', volume, points)?.told).toBe('1 value held within 0 to 127.');
    expect(valueForPoints('-200', volume, points)?.told).toBe('2 values held within 0 to 127.');
  });

  it('changes nothing where nothing was typed, and says what cannot be read', () => {
    expect(valueForPoints('  ', volume, points)).toBeNull();
    expect(valueForPoints('loud', volume, points)).toEqual({
      change: null,
      told: 'A value is a number, or + − * / and a number.',
    });
  });
});

describe('the place of the first chosen point', () => {
  it('is typed as bar and beat, and the others follow', () => {
    const typed = placeForPoints('2.1', meterMap, PPQ, points[0] as LanePoint);
    expect(points.map((one) => typed?.change?.(one).tick)).toEqual([1920, 2400]);
  });

  it('is left where nothing was typed, and says what cannot be read', () => {
    expect(placeForPoints('', meterMap, PPQ, points[0] as LanePoint)).toBeNull();
    const typed = placeForPoints('somewhere', meterMap, PPQ, points[0] as LanePoint);
    expect(typed?.change).toBeNull();
    expect(typed?.told).toMatch(/\w/);
  });
});
