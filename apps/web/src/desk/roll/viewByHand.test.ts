import { describe, expect, it } from 'vitest';
import type { RollView } from '../state/rollView.js';
import { pinched, wheeled } from './viewByHand.js';

const view: RollView = { left: 1000, ticksPerPixel: 4, top: 300, rowHeight: 12, width: 800, height: 400 };
const END = 100_000;
const turn = { deltaX: 0, deltaY: 0, deltaMode: 0, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false };
const at = { x: 200, y: 100 };
const tickAt = (seen: RollView, x: number) => seen.left + x * seen.ticksPerPixel;
const rowAt = (seen: RollView, y: number) => (y + seen.top) / seen.rowHeight;

describe('the wheel', () => {
  it('scrolls the way it turns, across with Shift', () => {
    expect(wheeled(view, { ...turn, deltaX: 10, deltaY: 20 }, at, END)).toEqual({ ...view, left: 1040, top: 320 });
    expect(wheeled(view, { ...turn, deltaY: 20, shiftKey: true }, at, END)).toEqual({ ...view, left: 1080 });
  });

  it('counts a line as sixteen pixels', () => {
    expect(wheeled(view, { ...turn, deltaY: 2, deltaMode: 1 }, at, END).top).toBe(332);
  });

  it('zooms in time about the place with Ctrl or the command key', () => {
    for (const key of ['ctrlKey', 'metaKey']) {
      const closer = wheeled(view, { ...turn, deltaY: -100, [key]: true }, at, END);
      expect(closer.ticksPerPixel).toBeCloseTo(4 / 1.0025 ** 100);
      expect(tickAt(closer, at.x)).toBeCloseTo(tickAt(view, at.x));
      expect(closer.rowHeight).toBe(12);
    }
  });

  it('zooms in pitch about the place with Alt', () => {
    const closer = wheeled(view, { ...turn, deltaY: -100, altKey: true }, at, END);
    expect(closer.rowHeight).toBeCloseTo(12 * 1.0025 ** 100);
    expect(rowAt(closer, at.y)).toBeCloseTo(rowAt(view, at.y));
    expect(closer.ticksPerPixel).toBe(4);
  });
});

describe('two fingers', () => {
  const other = { x: 100, y: 100 };

  it('zoom in time where they are apart across', () => {
    const spread = pinched(view, { before: { x: 200, y: 100 }, now: { x: 300, y: 100 }, other }, END);
    expect(spread.ticksPerPixel).toBe(2);
    expect(spread.rowHeight).toBe(12);
  });

  it('zoom in pitch where they are apart up and down', () => {
    const spread = pinched(view, { before: { x: 100, y: 200 }, now: { x: 100, y: 250 }, other }, END);
    expect(spread.rowHeight).toBe(18);
    expect(spread.ticksPerPixel).toBe(4);
  });

  it('only move the view where they are near each other, by half of what one goes', () => {
    const moved = pinched(view, { before: { x: 110, y: 100 }, now: { x: 120, y: 106 }, other }, END);
    expect(moved).toEqual({ ...view, left: 1000 - 5 * 4, top: 297 });
  });
});
