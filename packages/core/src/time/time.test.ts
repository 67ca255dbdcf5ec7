import { describe, expect, it } from 'vitest';
import {
  barPosition,
  barsOfRecording,
  beatsOfMeter,
  createMeterMap,
  type Meter,
  type MeterNode,
  meterTree,
  ticksPerBar,
} from './meterMap.js';
import { lengthInTicks, milliseconds, noteValue } from './noteLengths.js';
import { createTempoMap, quartersPerMinute } from './tempoMap.js';
import { leastCommonMultiple, rescaleTicks, ticks } from './units.js';

const meter = (numerator: number, denominator: number): Meter => ({ numerator, denominator });

describe('tempo map', () => {
  const map = createTempoMap(
    [
      { tick: ticks(960), microsecondsPerQuarter: 1_000_000 },
      { tick: ticks(0), microsecondsPerQuarter: 500_000 },
    ],
    480,
  );

  it('adds up seconds across a tempo change', () => {
    expect(map.secondsAt(960)).toBeCloseTo(1, 9);
    expect(map.secondsAt(1440)).toBeCloseTo(2, 9);
  });

  it('goes back from seconds to the same tick', () => {
    for (const tick of [0, 1, 480, 959, 960, 961, 5000]) expect(map.ticksAt(map.secondsAt(tick))).toBeCloseTo(tick, 6);
  });

  it('holds 120 quarters a minute where no tempo is given (Standard MIDI File 1.0)', () => {
    expect(createTempoMap([], 480).secondsAt(480)).toBeCloseTo(0.5, 9);
  });

  it('lets the last of several changes at one tick stand', () => {
    const twice = createTempoMap(
      [
        { tick: ticks(480), microsecondsPerQuarter: 250_000 },
        { tick: ticks(480), microsecondsPerQuarter: 1_000_000 },
      ],
      480,
    );
    expect(twice.secondsAt(960)).toBeCloseTo(1.5, 9);
  });

  it('says ticks to the millisecond at a place', () => {
    expect(map.ticksPerMillisecond(0)).toBeCloseTo(0.96, 9);
    expect(map.ticksPerMillisecond(960)).toBeCloseTo(0.48, 9);
  });

  it('names tempi in quarters a minute', () => {
    expect(quartersPerMinute(500_000)).toBe(120);
  });
});

describe('meter map', () => {
  it('numbers bars on across a change of meter', () => {
    const map = createMeterMap(
      [
        { tick: ticks(0), ...meter(4, 4) },
        { tick: ticks(3840), ...meter(6, 8) },
      ],
      480,
    );
    expect(map.barAt(3840)).toMatchObject({ number: 3, start: 3840, end: 5280 });
    expect(map.barsTo(6000).map((bar) => bar.start)).toEqual([0, 1920, 3840, 5280]);
  });

  it('begins a new bar where the meter changes within one', () => {
    const map = createMeterMap(
      [
        { tick: ticks(0), ...meter(4, 4) },
        { tick: ticks(960), ...meter(3, 4) },
      ],
      480,
    );
    expect(map.barAt(500)).toMatchObject({ number: 1, start: 0, end: 960, short: true });
    expect(map.barAt(960)).toMatchObject({ number: 2, start: 960, end: 2400, short: false });
  });

  it('says a place as bar, beat and tick', () => {
    const map = createMeterMap([{ tick: ticks(0), ...meter(6, 8) }], 480);
    expect(barPosition(map, 480, 1440 + 720 + 7)).toEqual({ bar: 2, beat: 2, tick: 7 });
  });

  it.each([
    [4, 4, [480, 480, 480, 480]],
    [2, 2, [480, 480, 480, 480]],
    [6, 8, [720, 720]],
    [9, 8, [720, 720, 720]],
    [3, 8, [720]],
    [5, 8, [480, 720]],
    [7, 8, [480, 480, 720]],
    [2, 8, [480]],
  ])('counts the beats of %i/%i', (numerator, denominator, lengths) => {
    const beats = beatsOfMeter(meter(numerator, denominator), 480);
    expect(beats.map((beat) => beat.length)).toEqual(lengths);
    expect(lengths.reduce((sum, length) => sum + length, 0)).toBe(ticksPerBar(meter(numerator, denominator), 480));
  });

  it('follows the groups that an additive meter is given', () => {
    const beats = beatsOfMeter({ numerator: 7, denominator: 8, groups: [3, 2, 2] }, 480);
    expect(beats.map((beat) => beat.length)).toEqual([720, 480, 480]);
  });

  const shape = (node: MeterNode, depth: number): unknown =>
    depth === 0 || node.children.length === 0 ? node.length : node.children.map((child) => shape(child, depth - 1));

  it.each([
    [
      4,
      4,
      [
        [480, 480],
        [480, 480],
      ],
    ],
    [
      3,
      4,
      [
        [240, 240],
        [240, 240],
        [240, 240],
      ],
    ],
    [
      6,
      8,
      [
        [240, 240, 240],
        [240, 240, 240],
      ],
    ],
    [
      12,
      8,
      [
        [720, 720],
        [720, 720],
      ],
    ],
    [
      5,
      4,
      [
        [480, 480, 480],
        [480, 480],
      ],
    ],
    [
      6,
      4,
      [
        [480, 480, 480],
        [480, 480, 480],
      ],
    ],
    [
      2,
      2,
      [
        [480, 480],
        [480, 480],
      ],
    ],
  ])('lays %i/%i out as a tree', (numerator, denominator, tree) => {
    expect(shape(meterTree(meter(numerator, denominator), 480), 2)).toEqual(tree);
  });

  it('counts the bars of a recording without the overhang of its last note', () => {
    const meters = [{ tick: ticks(0), ...meter(4, 4) }];
    expect(barsOfRecording(meters, 480, [{ onset: 0, duration: 2000 }])).toBe(1);
    expect(barsOfRecording(meters, 480, [{ onset: 0, duration: 2100 }])).toBe(2);
    expect(barsOfRecording(meters, 480, [{ onset: 1920, duration: 10 }])).toBe(2);
  });
});

describe('lengths and units', () => {
  it('turns lengths into ticks in the unit they were typed in', () => {
    expect(lengthInTicks(noteValue(1 / 16), 480, 1)).toBe(120);
    expect(lengthInTicks(milliseconds(30), 480, 0.96)).toBeCloseTo(28.8, 9);
    expect(lengthInTicks({ unit: 'ticks', value: 7 }, 480, 1)).toBe(7);
  });

  it('rescales to the nearest tick, exactly where the new PPQ is a multiple', () => {
    expect(rescaleTicks(7, 96, 480)).toBe(35);
    expect(rescaleTicks(7, 480, 96)).toBe(1);
    expect(leastCommonMultiple(96, 120)).toBe(480);
  });
});
