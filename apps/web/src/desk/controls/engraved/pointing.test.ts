import type { PageBar, PageStaff } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { type BarBox, barUnder, placeAt, stepAt, xOf, yOf } from './pointing.js';

const QUARTER = 10080;
const bar: PageBar = { number: 1, start: 0, end: 4 * QUARTER, lowestLine: 30, fifths: 0, octaves: [] };
const staff: PageStaff = { partId: 1, staff: 1, sounds: 0, percussion: null, bars: [bar] };
/** Two quarters near each other, a half further on, the bar line. */
const box: BarBox = {
  staff,
  bar,
  top: 100,
  bottom: 140,
  left: 10,
  right: 210,
  starts: [0, QUARTER],
  across: [
    { at: 0, x: 50 },
    { at: QUARTER, x: 80 },
    { at: 2 * QUARTER, x: 110 },
    { at: 4 * QUARTER, x: 210 },
  ],
};

describe('a place on the page', () => {
  it('lies across where its note is engraved, between notes in proportion', () => {
    expect(xOf(box, QUARTER)).toBe(80);
    expect(xOf(box, 3 * QUARTER)).toBe(160);
    expect(xOf(box, 9 * QUARTER)).toBe(210);
  });

  it('is the nearest of the grid and of what is engraved', () => {
    expect(placeAt(box, 163, QUARTER)).toBe(3 * QUARTER);
    expect(placeAt(box, 83, 2 * QUARTER)).toBe(QUARTER);
    expect(placeAt(box, 12, QUARTER)).toBe(0);
    // A place is never the bar line itself.
    expect(placeAt(box, 209, QUARTER)).toBe(3 * QUARTER);
  });

  it('has a step by its height, and a height by its step', () => {
    expect(stepAt(box, 140)).toBe(0);
    expect(stepAt(box, 119)).toBe(4);
    expect(stepAt(box, 90)).toBe(10);
    expect(stepAt(box, yOf(box, -3))).toBe(-3);
  });

  it('belongs to the nearest staff, and to none far away', () => {
    const below: BarBox = { ...box, top: 200, bottom: 240 };
    expect(barUnder([box, below], 60, 150)).toBe(box);
    expect(barUnder([box, below], 60, 180)).toBe(below);
    expect(barUnder([box, below], 60, 400)).toBeUndefined();
    expect(barUnder([box, below], 300, 120)).toBeUndefined();
  });
});
