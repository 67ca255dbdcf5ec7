/** Draws what lies over the notes: the crease, the playhead, the selecting box, what is being dragged. */

import type { Palette } from '../controls/palette.js';
import { type RollView, xOfTick } from '../state/rollView.js';
import type { Draft } from './drags.js';
import { FOLD_SIZE } from './pointer.js';

type Canvas = CanvasRenderingContext2D;

/** What to draw. */
export interface Overlay {
  readonly draft: Draft;
  readonly creaseTick: number | null;
  readonly playheadTick: number;
  /** Where the next note goes while notes are entered one after another, and how long it lasts. */
  readonly entry: { readonly at: number; readonly length: number } | null;
  readonly endTick: number;
  /** Height of what stands above the notes. */
  readonly head: number;
  readonly palette: Palette;
  /** Milliseconds from the start of the music to a tick. */
  readonly milliseconds: (tick: number) => number;
}

const FONT = '"Source Sans 3 Variable", sans-serif';

/** Coordinates begin at the ruler's top left corner. */
export const paintOverlay = (canvas: Canvas, view: RollView, overlay: Overlay): void => {
  const { draft, palette, head } = overlay;
  if (draft.box) {
    const { x1, y1, x2, y2 } = draft.box;
    canvas.fillStyle = palette.selected;
    canvas.globalAlpha = 0.45;
    canvas.fillRect(x1, y1 + head, x2 - x1, y2 - y1);
    canvas.globalAlpha = 1;
    canvas.strokeStyle = palette.ink;
    canvas.lineWidth = 1;
    canvas.setLineDash([4, 3]);
    canvas.strokeRect(x1, y1 + head, x2 - x1, y2 - y1);
    canvas.setLineDash([]);
  }
  paintNear(canvas, view, overlay);
  paintFigure(canvas, view, overlay);
  paintCrease(canvas, view, overlay);
  paintEntry(canvas, view, overlay);
  const x = xOfTick(view, overlay.playheadTick);
  if (x >= 0 && x <= view.width) {
    canvas.fillStyle = palette.ink;
    canvas.fillRect(x - 0.75, head - 6, 1.5, view.height + 6);
    canvas.beginPath();
    canvas.moveTo(x - 5, head - 12);
    canvas.lineTo(x + 5, head - 12);
    canvas.lineTo(x, head - 4);
    canvas.closePath();
    canvas.fill();
  }
};

/** Starts and ends of other notes near what is dragged, through all rows, the nearest with its distance. */
const paintNear = (canvas: Canvas, view: RollView, { draft: { near }, palette, milliseconds, head }: Overlay): void => {
  if (near.length === 0) return;
  canvas.strokeStyle = palette.fold;
  canvas.lineWidth = 1;
  canvas.setLineDash([2, 4]);
  near.forEach(({ tick }, index) => {
    canvas.globalAlpha = index === 0 ? 1 : 0.35;
    const x = Math.round(xOfTick(view, tick)) + 0.5;
    canvas.beginPath();
    canvas.moveTo(x, head);
    canvas.lineTo(x, head + view.height);
    canvas.stroke();
  });
  canvas.setLineDash([]);
  canvas.globalAlpha = 1;
  const [nearest] = near;
  if (!nearest) return;
  const distance = Math.round(Math.abs(milliseconds(nearest.tick) - milliseconds(nearest.tick - nearest.distance)));
  const words = distance === 0 ? 'together' : `${distance} ms ${nearest.distance > 0 ? 'before' : 'after'} it`;
  label(canvas, view, words, xOfTick(view, nearest.tick) + 6, head + 12, palette);
};

/** The place where the next note goes, through all rows, as wide as the note will be. */
const paintEntry = (canvas: Canvas, view: RollView, { entry, palette, head }: Overlay): void => {
  if (!entry) return;
  const from = xOfTick(view, entry.at);
  const to = xOfTick(view, entry.at + entry.length);
  if (to < 0 || from > view.width) return;
  canvas.fillStyle = palette.fold;
  canvas.globalAlpha = 0.14;
  canvas.fillRect(from, head, to - from, view.height);
  canvas.globalAlpha = 1;
  canvas.fillRect(from - 1, head - 8, 2, view.height + 8);
  canvas.fillRect(from, head - 4, to - from, 3);
};

/** A few words on a plate of their own, kept within the roll. */
const label = (canvas: Canvas, view: RollView, words: string, x: number, y: number, palette: Palette): void => {
  canvas.font = `600 12px ${FONT}`;
  canvas.textBaseline = 'middle';
  canvas.textAlign = 'left';
  const width = canvas.measureText(words).width + 8;
  const left = Math.max(0, Math.min(view.width - width, x));
  canvas.fillStyle = palette.sheet;
  canvas.fillRect(left, y - 9, width, 18);
  canvas.strokeStyle = palette.strong;
  canvas.strokeRect(left + 0.5, y - 8.5, width - 1, 17);
  canvas.fillStyle = palette.ink;
  canvas.fillText(words, left + 4, y + 0.5);
};

/** The number that a drag changes, beside the pointer. */
const paintFigure = (canvas: Canvas, view: RollView, { draft: { figure }, palette, head }: Overlay): void => {
  if (figure) label(canvas, view, figure.text, figure.x + 14, figure.y + head - 14, palette);
};

/** The crease with its folded corner; at home only the corner shows, at the right edge. */
const paintCrease = (canvas: Canvas, view: RollView, { creaseTick, palette, head }: Overlay): void => {
  const home = creaseTick === null;
  const x = home ? view.width : Math.max(0, Math.min(view.width, xOfTick(view, creaseTick)));
  if (!home) {
    const shade = canvas.createLinearGradient(x, 0, x + 14, 0);
    shade.addColorStop(0, palette.strong);
    shade.addColorStop(1, 'transparent');
    canvas.globalAlpha = 0.4;
    canvas.fillStyle = shade;
    canvas.fillRect(x, head, 14, view.height);
    canvas.globalAlpha = 1;
    canvas.fillStyle = palette.fold;
    canvas.fillRect(x - 1, 0, 2, view.height + head);
  }
  canvas.beginPath();
  canvas.moveTo(x, 0);
  canvas.lineTo(x - FOLD_SIZE, 0);
  canvas.lineTo(x, FOLD_SIZE);
  canvas.closePath();
  canvas.fillStyle = palette.fold;
  canvas.fill();
  canvas.beginPath();
  canvas.moveTo(x - FOLD_SIZE, 0);
  canvas.lineTo(x - FOLD_SIZE + 4, FOLD_SIZE - 4);
  canvas.lineTo(x, FOLD_SIZE);
  canvas.closePath();
  canvas.fillStyle = palette.shade;
  canvas.fill();
  canvas.strokeStyle = palette.fold;
  canvas.lineWidth = 1;
  canvas.stroke();
  if (home) return;
  canvas.font = `600 12px ${FONT}`;
  canvas.textBaseline = 'middle';
  canvas.fillStyle = palette.fold;
  canvas.textAlign = 'right';
  if (x > 90) canvas.fillText('played', x - 6, head + 10);
  canvas.textAlign = 'left';
  if (x < view.width - 60) canvas.fillText('written', x + 6, head + 10);
};
