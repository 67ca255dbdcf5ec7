import { ticks } from '@crispfold/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  boxAround,
  bringToView,
  createRows,
  fitBox,
  pitchOfY,
  type RollView,
  tickOfX,
  withinMusic,
  xOfTick,
  yOfPitch,
  zoomPitch,
  zoomTime,
} from '../state/rollView.js';
import { draftIndex, gridUnit, snapDistance, snapTick, targetAt } from './gestures.js';
import { createNoteIndex, noteAt, notesInBox, rangeOf } from './noteIndex.js';

const view: RollView = { left: 960, ticksPerPixel: 4, top: 500, rowHeight: 10, width: 800, height: 400 };
const rows = createRows(null);
const note = (id: number, pitch: number, onset: number, duration: number) => ({
  id,
  pitch,
  onset,
  duration,
  velocity: 80,
  channel: 0,
  muted: false,
});

describe('places in the roll', () => {
  it('go from ticks and pitches to pixels and back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 100_000 }), fc.integer({ min: 0, max: 127 }), (tick, pitch) => {
        expect(tickOfX(view, xOfTick(view, tick))).toBeCloseTo(tick, 6);
        expect(pitchOfY(view, rows, yOfPitch(view, rows, pitch) + 1)).toBe(pitch);
      }),
    );
  });

  it('leave out rows that are not used', () => {
    const few = createRows(new Set([60, 64, 72]));
    expect(few.pitches).toEqual([72, 64, 60]);
    expect(yOfPitch({ ...view, top: 0 }, few, 60)).toBe(20);
    expect(yOfPitch(view, few, 61)).toBeLessThan(-1000);
  });

  it('zoom about the point that is held', () => {
    const zoomed = zoomTime(view, 2, 300, 100_000);
    expect(tickOfX(zoomed, 300)).toBeCloseTo(tickOfX(view, 300), 6);
    expect(zoomed.ticksPerPixel).toBe(2);
    const taller = zoomPitch(view, 1.5, 120);
    expect(pitchOfY(taller, rows, 120)).toBe(pitchOfY(view, rows, 120));
  });

  it('never scroll before the start or past the last row', () => {
    expect(withinMusic({ ...view, left: -50, top: -10 }, rows, 100_000)).toMatchObject({ left: 0, top: 0 });
    expect(withinMusic({ ...view, top: 99_999 }, rows, 100_000).top).toBe(128 * 10 - 400);
  });

  it('fit a box with room about it', () => {
    const box = boxAround([note(1, 60, 480, 480), note(2, 72, 960, 960)]);
    expect(box).toEqual({ start: 480, end: 1920, lowest: 60, highest: 72 });
    const fitted = fitBox(view, rows, box as NonNullable<typeof box>);
    expect(xOfTick(fitted, 480)).toBeGreaterThanOrEqual(0);
    expect(xOfTick(fitted, 1920)).toBeLessThanOrEqual(view.width);
    expect(yOfPitch(fitted, rows, 72)).toBeGreaterThanOrEqual(0);
    expect(yOfPitch(fitted, rows, 60) + fitted.rowHeight).toBeLessThanOrEqual(view.height);
    expect(boxAround([])).toBeUndefined();
  });

  it('fit a box whose edges have no row', () => {
    const few = createRows(new Set([60, 64, 72]));
    const fitted = fitBox(view, few, { start: 0, end: 480, lowest: 58, highest: 66 });
    expect(yOfPitch(fitted, few, 64)).toBeGreaterThanOrEqual(0);
    expect(yOfPitch(fitted, few, 60) + fitted.rowHeight).toBeLessThanOrEqual(view.height);
  });

  it('bring a tick to view only where it is not', () => {
    expect(bringToView(view, 1000)).toBe(view);
    expect(xOfTick(bringToView(view, 50_000), 50_000)).toBeCloseTo(80, 6);
  });
});

describe('the note index', () => {
  it('finds what a walk over all notes finds', () => {
    const some = fc.array(
      fc.tuple(fc.integer({ min: 0, max: 500 }), fc.integer({ min: 1, max: 300 }), fc.integer({ min: 50, max: 60 })),
      { maxLength: 60 },
    );
    fc.assert(
      fc.property(some, fc.integer({ min: 0, max: 600 }), fc.integer({ min: 0, max: 200 }), (drafts, start, width) => {
        const notes = drafts
          .map(([onset, duration, pitch], id) => note(id, pitch, onset, duration))
          .sort((a, b) => a.onset - b.onset);
        const box = { start, end: start + width, lowest: 52, highest: 57 };
        const walked = notes.filter(
          (n) => n.pitch >= 52 && n.pitch <= 57 && n.onset <= box.end && n.onset + n.duration >= start,
        );
        expect(notesInBox(createNoteIndex(notes), box)).toEqual(walked);
      }),
    );
  });

  it('looks at few notes for a short stretch of a long piece', () => {
    const notes = Array.from({ length: 30_000 }, (_, k) => note(k, 60, k * 120, 110));
    const [first, last] = rangeOf(createNoteIndex(notes), 1_800_000, 1_801_000);
    expect(last - first).toBeLessThan(12);
  });

  it('prefers the note that starts last where several lie', () => {
    const index = createNoteIndex([note(1, 60, 0, 960), note(2, 60, 400, 60)]);
    expect(noteAt(index, 60, 420, 0)?.id).toBe(2);
    expect(noteAt(index, 60, 600, 0)?.id).toBe(1);
    expect(noteAt(index, 61, 420, 0)).toBeUndefined();
  });
});

describe('gestures', () => {
  const index = createNoteIndex([note(1, 60, 960, 480), note(3, 64, 960, 480), note(2, 60, 1440, 480)]);
  const y = (pitch: number) => yOfPitch(view, rows, pitch) + 5;
  const empty = createNoteIndex<ReturnType<typeof note>>([]);
  const partOf = (played: typeof index) => [
    { partId: 1, played, written: empty, differing: empty, facts: () => new Map(), hits: false },
  ];
  const ground = { view, rows, creaseTick: Number.POSITIVE_INFINITY, seamWithin: 30, pressing: 'point' as const };
  const at = (tick: number, pitch: number) => targetAt(partOf(index), ground, xOfTick(view, tick), y(pitch));

  it('know body, edges, seam and empty ground', () => {
    expect(at(1200, 60)).toMatchObject({ kind: 'body', note: { id: 1 } });
    expect(at(964, 60)).toMatchObject({ kind: 'edge', edge: 'start', note: { id: 1 } });
    // Where notes end and others begin, of one pitch or not; further in, the edge of the note alone.
    for (const pitch of [60, 64]) {
      expect(at(1438, pitch)).toMatchObject({
        kind: 'seam',
        shared: { ends: new Map([[1, new Set([1, 3])]]), starts: new Map([[1, new Set([2])]]) },
      });
      expect(at(1420, pitch)).toMatchObject({ kind: 'edge', edge: 'end' });
    }
    expect(at(1200, 62)).toEqual({ kind: 'empty' });
  });

  it('reach further for a finger: to edges, beside narrow notes, above and below low rows', () => {
    const finger = { ...ground, pressing: 'finger' as const };
    const long = createNoteIndex([note(1, 60, 960, 960)]);
    const [left, middle] = [xOfTick(view, 960), y(60)];
    const target = (x: number, height: number, on: typeof ground | typeof finger) =>
      targetAt(partOf(long), on, x, height);
    expect(target(left + 14, middle, ground)).toMatchObject({ kind: 'body' });
    expect(target(left + 14, middle, finger)).toMatchObject({ kind: 'edge', edge: 'start' });
    expect(target(left - 8, middle, ground)).toEqual({ kind: 'empty' });
    expect(target(left - 8, middle, finger)).toMatchObject({ kind: 'edge', edge: 'start' });
    // In the middle a finger moves the note; a row beside it is the note's, one far away is none.
    expect(target(xOfTick(view, 1440), middle, finger)).toMatchObject({ kind: 'body' });
    expect(target(xOfTick(view, 1440), middle + view.rowHeight, ground)).toEqual({ kind: 'empty' });
    expect(target(xOfTick(view, 1440), middle + view.rowHeight, finger)).toMatchObject({
      kind: 'body',
      note: { id: 1 },
    });
    expect(target(xOfTick(view, 1440), middle + 40, finger)).toEqual({ kind: 'empty' });
  });

  it('leave the middle of a narrow note for moving', () => {
    const narrow = createNoteIndex([note(1, 60, 1000, 24)]);
    expect(targetAt(partOf(narrow), ground, xOfTick(view, 1012), y(60)).kind).toBe('body');
  });

  it('snap places to the bar’s grid and moves to whole steps', () => {
    expect(snapTick(1300, 120, 0)).toBe(1320);
    expect(snapTick(1300, 120, 1210)).toBe(1330);
    expect(snapTick(1300.4, 0, 0)).toBe(1300);
    expect(snapDistance(70, 120)).toBe(120);
    expect(snapDistance(7.6, 0)).toBe(8);
  });

  it('switch snapping off by choice or when zoomed to ticks', () => {
    expect(gridUnit(true, 1 / 16, 480, 4)).toBe(120);
    expect(gridUnit(false, 1 / 16, 480, 4)).toBe(0);
    expect(gridUnit(true, 1 / 16, 480, 0.2)).toBe(0);
  });

  it('show a drag in order of onset', () => {
    const moved = draftIndex(
      index,
      new Map([[1, { ...note(1, 60, 5000, 480), onset: ticks(5000), duration: ticks(480), channel: 0 }]]),
    );
    expect(moved.notes.map((n) => n.id)).toEqual([3, 2, 1]);
  });
});
