import { type Lane, readValueEntry } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import {
  laneScale,
  mergedByTick,
  pointsWithin,
  pointUnder,
  type StrokeWishes,
  strokePoints,
  valueOfY,
  yOfValue,
} from './strokes.js';

const lane: Lane = { kind: 'controller', controller: 11 };
const view = { left: 0, ticksPerPixel: 2, width: 500, height: 112 };
const wishes: StrokeWishes = { tool: 'line', ramps: true, ease: 0.5, unit: 120 };
const from = { tick: 0, value: 10 };
const to = { tick: 480, value: 90 };

describe('a stroke', () => {
  it('straight: a ramp between two points, whichever way it is drawn', () => {
    const line = [
      { tick: 0, value: 10, ramp: 0 },
      { tick: 480, value: 90, ramp: null },
    ];
    expect(strokePoints(lane, [from, to], wishes)).toEqual(line);
    expect(strokePoints(lane, [to, from], wishes)).toEqual(line);
  });

  it('curved: the same with its ease; a click is one point', () => {
    expect(strokePoints(lane, [from, to], { ...wishes, tool: 'curve' })[0]?.ramp).toBe(0.5);
    expect(strokePoints(lane, [from], wishes)).toEqual([{ tick: 0, value: 10, ramp: null }]);
    expect(strokePoints(lane, [], wishes)).toEqual([]);
  });

  it('in a pedal’s lane: a press from where it goes down to where it comes up; freely drawn, its values', () => {
    const pedal: Lane = { kind: 'controller', controller: 64 };
    const press = [
      { tick: 0, value: 127, ramp: null },
      { tick: 480, value: 0, ramp: null },
    ];
    expect(strokePoints(pedal, [from, to], wishes)).toEqual(press);
    expect(strokePoints(pedal, [to, from], { ...wishes, tool: 'curve' })).toEqual(press);
    expect(strokePoints(pedal, [from, to], { ...wishes, tool: 'free' }).map(({ value }) => value)).toEqual([10, 90]);
  });

  it('held: values on the grid, one where they change, within bounds', () => {
    expect(strokePoints(lane, [from, to], { ...wishes, ramps: false }).map(({ tick, value }) => [tick, value])).toEqual(
      [
        [0, 10],
        [120, 30],
        [240, 50],
        [360, 70],
        [480, 90],
      ],
    );
    expect(strokePoints(lane, [{ tick: -9, value: 500 }], wishes)).toEqual([{ tick: 0, value: 127, ramp: null }]);
  });

  it('free: a straight hand leaves two points, a bent one as many as it needs', () => {
    const path = Array.from({ length: 49 }, (_, k) => ({ tick: k * 10, value: 10 + k }));
    expect(strokePoints(lane, path, { ...wishes, tool: 'free' })).toHaveLength(2);
    const bent = path.map(({ tick, value }, k) => ({ tick, value: k < 24 ? value : 58 - k }));
    expect(strokePoints(lane, bent, { ...wishes, tool: 'free' }).length).toBeGreaterThan(2);
    expect(strokePoints(lane, [...path].reverse(), { ...wishes, tool: 'free' })[0]?.tick).toBe(0);
    // Going back on itself adds nothing.
    expect(
      strokePoints(lane, [from, to, { tick: 100, value: 3 }, { tick: 500, value: 9 }], { ...wishes, tool: 'free' }).map(
        ({ tick }) => tick,
      ),
    ).toEqual([0, 480, 500]);
  });

  it('over notes gives the line itself, held or not', () => {
    expect(strokePoints({ kind: 'velocity' }, [from, to], { ...wishes, ramps: false })[0]?.ramp).toBe(0);
  });
});

describe('a lane on the screen', () => {
  const scale = laneScale(lane, []);
  it('has its least value at the bottom and its most at the top', () => {
    expect(yOfValue(view, scale, 127)).toBe(6);
    expect(yOfValue(view, scale, 0)).toBe(106);
    expect(valueOfY(view, scale, yOfValue(view, scale, 64))).toBeCloseTo(64, 9);
    expect([valueOfY(view, scale, -50), valueOfY(view, scale, 900)]).toEqual([127, 0]);
  });

  it('of tempo shows the tempi in use with room, ramps too', () => {
    expect(laneScale({ kind: 'tempo' }, [{ value: 100, to: 50 }])).toEqual({ least: 30, most: 140 });
  });

  it('points that are dragged stand in order among those that stay', () => {
    const at = (id: number, tick: number) => ({ id, tick, value: 1, ramp: null });
    const merged = mergedByTick([at(1, 0), at(2, 100), at(3, 200)], [at(5, 900), at(4, 150)]);
    expect(merged.map(({ id }) => id)).toEqual([1, 2, 4, 3, 5]);
  });

  it('points are grabbed within reach, and boxed', () => {
    const points = [
      { id: 1, tick: 100, value: 64, ramp: null },
      { id: 2, tick: 104, value: 100, ramp: null },
    ];
    expect(pointUnder(points, view, scale, 52, yOfValue(view, scale, 98))?.id).toBe(2);
    expect(pointUnder(points, view, scale, 90, 50)).toBeUndefined();
    expect([...pointsWithin(points, { tick: 110, value: 80 }, { tick: 90, value: 127 })]).toEqual([2]);
  });
});

describe('a typed value', () => {
  it.each([
    ['64', 64],
    ['+3', 13],
    ['-4', 6],
    ['*1,5', 15],
    ['/2', 5],
  ])('%s makes %d of 10', (text, value) => {
    expect(readValueEntry(text)?.(10)).toBe(value);
  });
  it('that is none is refused', () => {
    expect([readValueEntry('loud'), readValueEntry(''), readValueEntry('/0')]).toEqual([null, null, null]);
  });
});
