/** Draws the notes of the chosen finding so that each can be seen, those hidden under others too. */
import type { Note } from '@crispfold/core';
import type { Palette } from '../controls/palette.js';
import { type RollView, type Rows, xOfTick, yOfPitch } from '../state/rollView.js';

/** How far each further note of a pitch is set down from the one before, in parts of a row. */
const SET_DOWN = 0.55;
const LEAST_WIDTH = 6;

/** Outlines notes; a second note of a pitch that overlaps the first is set down from it and filled. */
export const paintFinding = (
  canvas: CanvasRenderingContext2D,
  view: RollView,
  rows: Rows,
  notes: readonly Note[],
  palette: Palette,
): void => {
  if (notes.length === 0) return;
  canvas.save();
  canvas.strokeStyle = palette.fold;
  canvas.fillStyle = palette.fold;
  const ends = new Map<number, { end: number; depth: number }>();
  for (const note of notes) {
    const before = ends.get(note.pitch);
    const depth = before && note.onset < before.end ? before.depth + 1 : 0;
    ends.set(note.pitch, { end: Math.max(before?.end ?? 0, note.onset + note.duration), depth });
    const x = xOfTick(view, note.onset);
    const width = Math.max(LEAST_WIDTH, note.duration / view.ticksPerPixel);
    const height = Math.max(4, view.rowHeight - 2);
    const y = yOfPitch(view, rows, note.pitch) + 1 + depth * Math.max(5, view.rowHeight * SET_DOWN);
    if (x > view.width || x + width < 0) continue;
    canvas.lineWidth = 2;
    canvas.strokeRect(x - 1, y - 1, width + 2, height + 2);
    if (depth === 0) continue;
    canvas.globalAlpha = 0.85;
    canvas.fillRect(x, y, width, height);
    canvas.globalAlpha = 1;
  }
  canvas.restore();
};

/** Where notes lie that can be seen: the top of their row, never narrower than can be seen. */
function* inView(view: RollView, rows: Rows, notes: readonly Note[]) {
  for (const note of notes) {
    const x = xOfTick(view, note.onset);
    const width = Math.max(LEAST_WIDTH, note.duration / view.ticksPerPixel);
    if (x <= view.width && x + width >= 0) yield { x, y: yOfPitch(view, rows, note.pitch), width };
  }
}

/** Tints notes that a sentence picks. */
export const paintPicked = (
  canvas: CanvasRenderingContext2D,
  view: RollView,
  rows: Rows,
  notes: readonly Note[],
  palette: Palette,
): void => {
  if (notes.length === 0) return;
  canvas.save();
  canvas.fillStyle = palette.fold;
  canvas.globalAlpha = 0.4;
  const height = Math.max(4, view.rowHeight - 2);
  for (const { x, y, width } of inView(view, rows, notes)) canvas.fillRect(x, y + 1, width, height);
  canvas.restore();
};

/** A line under the notes whose page is held, with a foot at each end: they stand pinned there. */
export const paintHeld = (
  canvas: CanvasRenderingContext2D,
  view: RollView,
  rows: Rows,
  notes: readonly Note[],
  palette: Palette,
): void => {
  if (notes.length === 0) return;
  canvas.save();
  canvas.fillStyle = palette.ink;
  for (const { x, y, width } of inView(view, rows, notes)) {
    const under = y + view.rowHeight;
    canvas.fillRect(x, under - 1, width, 1);
    canvas.fillRect(x, under - 1, 1.5, 4);
    canvas.fillRect(x + width - 1.5, under - 1, 1.5, 4);
  }
  canvas.restore();
};

const paintLines = (
  canvas: CanvasRenderingContext2D,
  view: RollView,
  ticks: readonly number[],
  palette: Palette,
  width: number,
  dash: readonly number[],
): void => {
  if (ticks.length === 0) return;
  canvas.save();
  canvas.strokeStyle = palette.fold;
  canvas.lineWidth = width;
  canvas.setLineDash([...dash]);
  canvas.beginPath();
  let last = Number.NEGATIVE_INFINITY;
  for (const tick of ticks) {
    const x = Math.round(xOfTick(view, tick));
    if (x < 0 || x > view.width || x - last < LEAST_BETWEEN_LINES) continue;
    last = x;
    canvas.moveTo(x, 0);
    canvas.lineTo(x, view.height);
  }
  canvas.stroke();
  canvas.restore();
};

/** Beats that are tried, as dotted lines; of those that lie too near each other some are left out. */
export const paintBeats = (
  canvas: CanvasRenderingContext2D,
  view: RollView,
  ticks: readonly number[],
  palette: Palette,
): void => paintLines(canvas, view, ticks, palette, 1, [2, 4]);

/** Draws where bar lines would stand, from top to bottom. */
export const paintLinesToCome = (
  canvas: CanvasRenderingContext2D,
  view: RollView,
  ticks: readonly number[],
  palette: Palette,
): void => paintLines(canvas, view, ticks, palette, 2, [6, 5]);

/** Lines nearer to each other than this are left out, in pixels. */
const LEAST_BETWEEN_LINES = 12;
