/** The demo lasts longer where it slows down, and only there. */
import { createMeterMap, demoArrangement, tempoAt, ticks } from '@crispfold/core';
import { expect, test } from 'vitest';
import { barsOf, FIRST_SLOW_DOWN, passageFor, percentFor, slowedDown } from './slowDownModel.js';

const arrangement = demoArrangement();
const meterMap = createMeterMap(arrangement.meters, arrangement.ppq);
const barStart = (number: number): number => meterMap.barNumbered(number).start;

test('what is meant: whole bars of the selected notes, else the loop, else the bar of the playhead', () => {
  const loop = { start: barStart(5), end: barStart(7) };
  const tick = barStart(9) + 1;
  const notes = [
    { onset: ticks(barStart(3) + 10), duration: ticks(20) },
    { onset: ticks(barStart(2) + 10), duration: ticks(barStart(4) - barStart(2) - 10) },
  ];
  const bars = (about: Parameters<typeof passageFor>[0]) => barsOf(passageFor(about, meterMap), meterMap);
  // The longer note ends where bar 4 begins: bar 4 is not meant.
  expect(bars({ notes, loop, tick })).toEqual({ from: 2, to: 3 });
  expect(bars({ notes: [], loop, tick })).toEqual({ from: 5, to: 6 });
  expect(bars({ notes: [], loop: { start: 40, end: 40 }, tick })).toEqual({ from: 9, to: 9 });
  expect(bars({ notes: [], loop: null, tick })).toEqual({ from: 9, to: 9 });
});

test('bars that slow down last longer, those that speed up shorter; at 100 % there is nothing to do', () => {
  const passage = { from: barStart(3), to: barStart(5) };
  const slow = slowedDown(arrangement, passage, FIRST_SLOW_DOWN);
  expect(slow.tempo).toBe(tempoAt(arrangement.tempos, passage.from));
  expect(slow.target).toBeCloseTo(slow.tempo * 0.7, 9);
  expect(slow.edit).not.toBeNull();
  expect(slow.seconds.after).toBeGreaterThan(slow.seconds.before);
  // The tempo falls to seven tenths at most: they cannot last longer than by as much.
  expect(slow.seconds.after).toBeLessThan(slow.seconds.before / 0.7);
  const fast = slowedDown(arrangement, passage, { ...FIRST_SLOW_DOWN, percent: 130 });
  expect(fast.seconds.after).toBeLessThan(fast.seconds.before);
  const nothing = slowedDown(arrangement, { from: 0, to: 0 }, FIRST_SLOW_DOWN);
  expect(nothing.edit).toBeNull();
  expect(nothing.seconds).toEqual({ before: 0, after: 0 });
});

test('a tempo is taken as a percent of the tempo that is there, within what can be asked', () => {
  expect(percentFor(60, 120)).toBe(50);
  expect(percentFor(1, 120)).toBe(10);
  expect(percentFor(999, 120)).toBe(300);
});
