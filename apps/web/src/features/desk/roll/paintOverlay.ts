/** Draws what lies over the notes: the crease, the playhead, the selecting box, what is being dragged. */
import { RULER_HEIGHT } from './paintGround.js';
import type { Palette } from './palette.js';
import { type Draft, FOLD_SIZE } from './pointer.js';
import { type RollView, xOfTick } from './rollView.js';

type Canvas = CanvasRenderingContext2D;

/** What to draw. */
export interface Overlay {
  readonly draft: Draft;
  readonly creaseTick: number | null;
  readonly playheadTick: number;
  readonly endTick: number;
  readonly palette: Palette;
}

/** Coordinates begin at the ruler's top left corner. */
export const paintOverlay = (canvas: Canvas, view: RollView, overlay: Overlay): void => {
  const { draft, palette } = overlay;
  if (draft.box) {
    const { x1, y1, x2, y2 } = draft.box;
    canvas.fillStyle = palette.selected;
    canvas.globalAlpha = 0.45;
    canvas.fillRect(x1, y1 + RULER_HEIGHT, x2 - x1, y2 - y1);
    canvas.globalAlpha = 1;
    canvas.strokeStyle = palette.ink;
    canvas.lineWidth = 1;
    canvas.setLineDash([4, 3]);
    canvas.strokeRect(x1, y1 + RULER_HEIGHT, x2 - x1, y2 - y1);
    canvas.setLineDash([]);
  }
  paintCrease(canvas, view, overlay);
  const x = xOfTick(view, overlay.playheadTick);
  if (x >= 0 && x <= view.width) {
    canvas.fillStyle = palette.ink;
    canvas.fillRect(x - 0.75, RULER_HEIGHT - 6, 1.5, view.height + 6);
    canvas.beginPath();
    canvas.moveTo(x - 5, RULER_HEIGHT - 12);
    canvas.lineTo(x + 5, RULER_HEIGHT - 12);
    canvas.lineTo(x, RULER_HEIGHT - 4);
    canvas.closePath();
    canvas.fill();
  }
};

/** The crease with its folded corner; at home only the corner shows, at the right edge. */
const paintCrease = (canvas: Canvas, view: RollView, { creaseTick, palette }: Overlay): void => {
  const home = creaseTick === null;
  const x = home ? view.width : Math.max(0, Math.min(view.width, xOfTick(view, creaseTick)));
  if (!home) {
    const shade = canvas.createLinearGradient(x, 0, x + 14, 0);
    shade.addColorStop(0, palette.strong);
    shade.addColorStop(1, 'transparent');
    canvas.globalAlpha = 0.4;
    canvas.fillStyle = shade;
    canvas.fillRect(x, RULER_HEIGHT, 14, view.height);
    canvas.globalAlpha = 1;
    canvas.fillStyle = palette.fold;
    canvas.fillRect(x - 1, 0, 2, view.height + RULER_HEIGHT);
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
  canvas.font = '600 12px "Source Sans 3 Variable", sans-serif';
  canvas.textBaseline = 'middle';
  canvas.fillStyle = palette.fold;
  canvas.textAlign = 'right';
  if (x > 90) canvas.fillText('played', x - 6, RULER_HEIGHT + 10);
  canvas.textAlign = 'left';
  if (x < view.width - 60) canvas.fillText('written', x + 6, RULER_HEIGHT + 10);
};
