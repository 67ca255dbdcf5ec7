import { type Note, ticks } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import type { Palette } from '../controls/palette.js';
import { createRows, type RollView } from '../state/rollView.js';
import { paintFinding, paintHeld } from './paintFinding.js';

const view: RollView = { left: 0, ticksPerPixel: 1, top: 0, rowHeight: 10, width: 1000, height: 2000 };
const rows = createRows(null);
const palette = { fold: 'red' } as Palette;
const note = (id: number, pitch: number, onset: number, duration: number): Note => ({
  id,
  pitch,
  onset: ticks(onset),
  duration: ticks(duration),
  velocity: 80,
  channel: 0,
});

/** A canvas that writes down the boxes it is asked to draw. */
const painted = (notes: Note[], seen = view) => {
  const outlines: number[][] = [];
  const fills: number[][] = [];
  const canvas = {
    save: () => undefined,
    restore: () => undefined,
    strokeRect: (...box: number[]) => outlines.push(box),
    fillRect: (...box: number[]) => fills.push(box),
  };
  paintFinding(canvas as unknown as CanvasRenderingContext2D, seen, rows, notes, palette);
  return { outlines, fills };
};

describe('the notes of a chosen finding', () => {
  it('are outlined where they are', () => {
    const { outlines, fills } = painted([note(1, 60, 100, 50)]);
    expect(outlines).toHaveLength(1);
    expect(outlines[0]?.slice(0, 1)).toEqual([99]);
    expect(outlines[0]?.[2]).toBe(52);
    expect(fills).toEqual([]);
  });

  it('a note hidden under another of its pitch is set down from it and filled, so that it is seen', () => {
    const { outlines, fills } = painted([note(1, 60, 0, 400), note(2, 60, 100, 40), note(3, 60, 120, 10)]);
    const tops = outlines.map((box) => box[1] as number);
    expect(tops[1]).toBeGreaterThan(tops[0] as number);
    expect(tops[2]).toBeGreaterThan(tops[1] as number);
    expect(fills).toHaveLength(2);
  });

  it('notes of other pitches, or later ones, stay in their row', () => {
    const { outlines, fills } = painted([note(1, 60, 0, 100), note(2, 60, 200, 40), note(3, 64, 50, 40)]);
    expect(outlines[1]?.[1]).toBe(outlines[0]?.[1]);
    expect(fills).toEqual([]);
  });

  it('even the shortest is wide enough to see, and what is out of view is left out', () => {
    expect(painted([note(1, 60, 10, 1)]).outlines[0]?.[2]).toBeGreaterThanOrEqual(8);
    expect(painted([note(1, 60, 5000, 10)]).outlines).toEqual([]);
  });
});

it('notes whose page is held stand pinned: a line under each, with a foot at both ends', () => {
  const fills: number[][] = [];
  const canvas = {
    save: () => undefined,
    restore: () => undefined,
    fillRect: (...box: number[]) => fills.push(box),
  } as unknown as CanvasRenderingContext2D;
  paintHeld(canvas, view, rows, [note(1, 60, 100, 50), note(2, 60, 5000, 50)], palette);
  expect(fills.map(([x, , width]) => [x, width])).toEqual([
    [100, 50],
    [100, 1.5],
    [148.5, 1.5],
  ]);
});
