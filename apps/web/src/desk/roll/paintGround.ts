/** Draws the ground: rows, the staff's rules, bars and beats; and the ruler above it. */

import { type Bar, beatsOfBar, pitchName } from '@crispfold/core';
import type { Palette } from '../controls/palette.js';
import { NAMES_WIDTH, RULER_HEIGHT } from '../state/rollLayout.js';
import { type RollView, type Rows, xOfTick, yOfPitch } from '../state/rollView.js';
import {
  barLabels,
  type LabelKind,
  MARKER_PAD,
  type Measure,
  type PlacedSigns,
  type RulerLabel,
  signLabels,
} from './rulerLabels.js';

type Canvas = CanvasRenderingContext2D;

/** Lines of the treble and bass staves, and the places of ledger lines about them (MIDI numbers). */
const STAFF_LINES = [43, 47, 50, 53, 57, 64, 67, 71, 74, 77];
const LEDGER_LINES = [36, 40, 60, 81, 84, 88];
const DARK_KEYS = new Set([1, 3, 6, 8, 10]);
const FONT = '"Source Sans 3 Variable", sans-serif';

const line = (canvas: Canvas, x1: number, y1: number, x2: number, y2: number): void => {
  canvas.moveTo(x1, y1);
  canvas.lineTo(x2, y2);
};

/** Rows and rules. Bars are those on view; rows of the marked pitch classes are tinted; `lines` are the grid's, in ticks. */
export const paintGround = (
  canvas: Canvas,
  view: RollView,
  rows: Rows,
  bars: readonly Bar[],
  ppq: number,
  palette: Palette,
  marked: ReadonlySet<number> | null,
  lines: readonly number[],
): void => {
  canvas.fillStyle = palette.sheet;
  canvas.fillRect(0, 0, view.width, view.height);
  canvas.fillStyle = palette.shade;
  for (const pitch of rows.pitches) {
    if (!DARK_KEYS.has(pitch % 12)) continue;
    const y = yOfPitch(view, rows, pitch);
    if (y > -view.rowHeight && y < view.height) canvas.fillRect(0, y, view.width, view.rowHeight);
  }
  if (marked) {
    canvas.fillStyle = palette.selected;
    canvas.globalAlpha = 0.5;
    for (const pitch of rows.pitches) {
      if (!marked.has(pitch % 12)) continue;
      const y = yOfPitch(view, rows, pitch);
      if (y > -view.rowHeight && y < view.height) canvas.fillRect(0, y, view.width, view.rowHeight);
    }
    canvas.globalAlpha = 1;
  }
  paintLines(canvas, view, lines, palette);
  paintBars(canvas, view, bars, ppq, palette);
  paintStaff(canvas, view, rows, palette);
};

/** Lines of the grid nearer together than this are not drawn, in pixels. */
const LEAST_BETWEEN = 4;

/** The lines of the page's own divisions, where they do not crowd. */
const paintLines = (canvas: Canvas, view: RollView, lines: readonly number[], palette: Palette): void => {
  if (lines.length === 0) return;
  canvas.beginPath();
  canvas.strokeStyle = palette.rule;
  canvas.lineWidth = 1;
  let last = Number.NEGATIVE_INFINITY;
  for (const tick of lines) {
    const x = Math.round(xOfTick(view, tick)) + 0.5;
    if (x - last < LEAST_BETWEEN) continue;
    last = x;
    line(canvas, x, 0, x, view.height);
  }
  canvas.stroke();
};

const paintBars = (canvas: Canvas, view: RollView, bars: readonly Bar[], ppq: number, palette: Palette): void => {
  const beatWidth = ppq / view.ticksPerPixel;
  if (beatWidth > 9) {
    canvas.beginPath();
    canvas.strokeStyle = palette.rule;
    canvas.lineWidth = 1;
    for (const bar of bars) {
      for (const beat of beatsOfBar(bar, ppq).slice(1)) {
        const x = Math.round(xOfTick(view, beat.start)) + 0.5;
        line(canvas, x, 0, x, view.height);
      }
    }
    canvas.stroke();
  }
  canvas.beginPath();
  canvas.strokeStyle = palette.strong;
  const every = barStep(view, bars);
  for (const bar of bars) {
    if (bar.index % every !== 0) continue;
    const x = Math.round(xOfTick(view, bar.start)) + 0.5;
    line(canvas, x, 0, x, view.height);
  }
  canvas.stroke();
};

/** Shows every bar line, or every second, fourth … where they would crowd. */
const barStep = (view: RollView, bars: readonly Bar[]): number => {
  const bar = bars[0];
  if (!bar) return 1;
  const width = (bar.end - bar.start) / view.ticksPerPixel;
  let step = 1;
  while (width * step < 12) step *= 2;
  return step;
};

const paintStaff = (canvas: Canvas, view: RollView, rows: Rows, palette: Palette): void => {
  const middleOf = (pitch: number) => Math.round(yOfPitch(view, rows, pitch) + view.rowHeight / 2) + 0.5;
  canvas.beginPath();
  canvas.strokeStyle = palette.strong;
  canvas.lineWidth = 1;
  for (const pitch of STAFF_LINES) {
    const y = middleOf(pitch);
    if (y > -2 && y < view.height + 2) line(canvas, 0, y, view.width, y);
  }
  canvas.stroke();
  canvas.beginPath();
  canvas.setLineDash([6, 10]);
  for (const pitch of LEDGER_LINES) {
    const y = middleOf(pitch);
    if (y > -2 && y < view.height + 2) line(canvas, 0, y, view.width, y);
  }
  canvas.stroke();
  canvas.setLineDash([]);
};

/** The strip of note names at the left, over whatever is there. */
export const paintNames = (canvas: Canvas, view: RollView, rows: Rows, palette: Palette): void => {
  canvas.fillStyle = palette.sheet;
  canvas.fillRect(0, 0, NAMES_WIDTH, view.height);
  canvas.fillStyle = palette.strong;
  canvas.fillRect(NAMES_WIDTH - 1, 0, 1, view.height);
  const all = view.rowHeight >= 12;
  canvas.textBaseline = 'middle';
  canvas.textAlign = 'right';
  for (const pitch of rows.pitches) {
    const isC = pitch % 12 === 0;
    if (!all && !(isC || (view.rowHeight >= 7 && pitch % 12 === 7))) continue;
    const y = yOfPitch(view, rows, pitch) + view.rowHeight / 2;
    if (y < -8 || y > view.height + 8) continue;
    canvas.font = `${isC ? 650 : 400} ${Math.min(13, Math.max(10, view.rowHeight - 1))}px ${FONT}`;
    canvas.fillStyle = isC ? palette.ink : palette.soft;
    canvas.fillText(pitchName(pitch), NAMES_WIDTH - 6, y);
  }
};

/** Names of percussion sounds on the rows that use them, at the left of the notes. */
export const paintSoundNames = (
  canvas: Canvas,
  view: RollView,
  rows: Rows,
  names: ReadonlyMap<number, string>,
  palette: Palette,
): void => {
  const size = Math.min(12, Math.max(10, view.rowHeight - 1));
  canvas.font = `600 ${size}px ${FONT}`;
  canvas.textBaseline = 'middle';
  canvas.textAlign = 'left';
  let last = Number.NEGATIVE_INFINITY;
  for (const [pitch, name] of [...names].sort(([a], [b]) => b - a)) {
    const y = yOfPitch(view, rows, pitch) + view.rowHeight / 2;
    // Where rows are low and neighbours both sound, one of them is named.
    if (y < 0 || y > view.height || y - last < size) continue;
    last = y;
    const height = Math.max(view.rowHeight, size);
    canvas.globalAlpha = 0.85;
    canvas.fillStyle = palette.sheet;
    canvas.fillRect(0, y - height / 2, canvas.measureText(name).width + 10, height);
    canvas.globalAlpha = 1;
    canvas.fillStyle = palette.ink;
    canvas.fillText(name, 5, y);
  }
};

/** What the ruler shows besides bars. */
export interface RulerSigns extends PlacedSigns {
  readonly loop: { readonly start: number; readonly end: number } | null;
  readonly loopOn: boolean;
  /** The crease's folded corner, in pixels of the roll. */
  readonly fold: { readonly x: number; readonly width: number } | null;
  /** Where the bars lie that the page shows. */
  readonly page: { readonly start: number; readonly end: number } | null;
}

/** Bars and beats, meters and tempi, markers, the loop. */
export const paintRuler = (
  canvas: Canvas,
  view: RollView,
  bars: readonly Bar[],
  ppq: number,
  signs: RulerSigns,
  palette: Palette,
): void => {
  canvas.fillStyle = palette.sheet;
  canvas.fillRect(0, 0, view.width, RULER_HEIGHT);
  if (signs.loop) {
    const x1 = xOfTick(view, signs.loop.start);
    const x2 = xOfTick(view, signs.loop.end);
    canvas.fillStyle = palette.selected;
    canvas.fillRect(x1, RULER_HEIGHT - 22, x2 - x1, 21);
    canvas.fillStyle = signs.loopOn ? palette.fold : palette.strong;
    canvas.fillRect(x1, RULER_HEIGHT - 4, x2 - x1, 3);
  }
  canvas.fillStyle = palette.strong;
  canvas.fillRect(0, RULER_HEIGHT - 1, view.width, 1);
  if (signs.page) {
    const [from, to] = [xOfTick(view, signs.page.start), xOfTick(view, signs.page.end)];
    canvas.fillStyle = palette.ink;
    canvas.fillRect(from + 1, RULER_HEIGHT - 3, Math.max(2, to - from - 2), 2);
  }
  canvas.textBaseline = 'middle';
  canvas.textAlign = 'left';
  paintTicks(canvas, view, bars, ppq, palette);
  const measure = measureOn(canvas);
  paintLabels(canvas, barLabels(view, bars, ppq, measure), RULER_HEIGHT - 12, palette);
  paintLabels(canvas, signLabels(view, signs, measure), 13, palette);
};

/** How each kind of label is set. */
const TYPE: { readonly [kind in LabelKind]: string } = {
  bar: `600 13px ${FONT}`,
  beat: `400 11px ${FONT}`,
  marker: `600 13px ${FONT}`,
  meter: '600 13px "Source Serif 4 Variable", serif',
  key: `400 12px ${FONT}`,
  tempo: `400 12px ${FONT}`,
};
const SOFT: ReadonlySet<LabelKind> = new Set(['beat', 'key', 'tempo']);

const measureOn =
  (canvas: Canvas): Measure =>
  (kind, text) => {
    canvas.font = TYPE[kind];
    return canvas.measureText(text).width;
  };

const paintLabels = (canvas: Canvas, labels: readonly RulerLabel[], y: number, palette: Palette): void => {
  for (const { kind, text, x, width } of labels) {
    const colour = SOFT.has(kind) ? palette.soft : palette.ink;
    if (kind === 'marker') {
      canvas.strokeStyle = colour;
      canvas.lineWidth = 1;
      canvas.strokeRect(x + 0.5, y - 9.5, width, 18);
    }
    canvas.font = TYPE[kind];
    canvas.fillStyle = colour;
    canvas.fillText(text, kind === 'marker' ? x + MARKER_PAD : x, y);
  }
};

/** The lines of bars and beats at the foot of the ruler. */
const paintTicks = (canvas: Canvas, view: RollView, bars: readonly Bar[], ppq: number, palette: Palette): void => {
  canvas.fillStyle = palette.strong;
  for (const bar of bars) {
    canvas.fillRect(Math.round(xOfTick(view, bar.start)), RULER_HEIGHT - 20, 1, 20);
    if (ppq / view.ticksPerPixel <= 9) continue;
    for (const beat of beatsOfBar(bar, ppq).slice(1)) {
      canvas.fillRect(Math.round(xOfTick(view, beat.start)), RULER_HEIGHT - 7, 1, 7);
    }
  }
};
