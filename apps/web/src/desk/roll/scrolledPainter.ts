/**
 * Painting that scrolls cheaply: what stays on view is moved over the canvas, and only what comes into view is painted.
 * With sixty parts on view that is the difference between a thousand outlines a frame and some dozens.
 */
import { type RollView, tickOfX } from '../state/rollView.js';

/** A box of the roll's window, in pixels. */
interface Area {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Paints all that a view holds; its origin is the view's left upper corner. */
export type ViewPainter = (canvas: CanvasRenderingContext2D, view: RollView) => void;

/** Outlines reach this far out of their boxes where they end in a point, in pixels: painting looks so far beyond an edge. */
const BLEED = 8;

/** By how many whole pixels of the screen the music has moved from one view to another; null where it did not just scroll. */
export const scrolledBy = (from: RollView, to: RollView, ratio: number): readonly [x: number, y: number] | null => {
  if (
    from.ticksPerPixel !== to.ticksPerPixel ||
    from.rowHeight !== to.rowHeight ||
    from.width !== to.width ||
    from.height !== to.height
  ) {
    return null;
  }
  const x = ((to.left - from.left) / to.ticksPerPixel) * ratio;
  const y = (to.top - from.top) * ratio;
  if (Math.abs(x) >= to.width * ratio || Math.abs(y) >= to.height * ratio) return null;
  const [wholeX, wholeY] = [Math.round(x), Math.round(y)];
  return Math.abs(x - wholeX) > 1e-3 || Math.abs(y - wholeY) > 1e-3 ? null : [wholeX, wholeY];
};

/** What comes into view when the music moves to the left by `x` and up by `y`: a strip at the side, one above or below. */
export const uncovered = ({ width, height }: RollView, x: number, y: number): readonly Area[] => {
  const areas: Area[] = [];
  if (x !== 0) areas.push({ x: x > 0 ? width - x : 0, y: 0, width: Math.abs(x), height });
  if (y !== 0) areas.push({ x: 0, y: y > 0 ? height - y : 0, width, height: Math.abs(y) });
  return areas;
};

/** The part of a view that lies in an area, and what bleeds into it. */
const viewOfArea = (view: RollView, { x, y, width, height }: Area): RollView => ({
  ...view,
  left: tickOfX(view, x - BLEED),
  top: view.top + y - BLEED,
  width: width + 2 * BLEED,
  height: height + 2 * BLEED,
});

const paintArea = (canvas: CanvasRenderingContext2D, view: RollView, area: Area, paint: ViewPainter): void => {
  canvas.save();
  canvas.beginPath();
  canvas.rect(area.x, area.y, area.width, area.height);
  canvas.clip();
  canvas.clearRect(area.x, area.y, area.width, area.height);
  canvas.translate(area.x - BLEED, area.y - BLEED);
  paint(canvas, viewOfArea(view, area));
  canvas.restore();
};

/** Moves what is painted; `box` in pixels of the screen. */
const move = (canvas: CanvasRenderingContext2D, box: Area, x: number, y: number): void => {
  canvas.save();
  canvas.setTransform(1, 0, 0, 1, 0, 0);
  canvas.globalCompositeOperation = 'copy';
  canvas.beginPath();
  canvas.rect(box.x, box.y, box.width, box.height);
  canvas.clip();
  canvas.drawImage(canvas.canvas, box.x, box.y, box.width, box.height, box.x - x, box.y - y, box.width, box.height);
  canvas.restore();
};

/** Where a view lies on its canvas: its left upper corner, in pixels. */
interface Corner {
  readonly x: number;
  readonly y: number;
}

/**
 * A painter of one canvas. It paints all where nothing stays of what it painted last, where the painter is another one, and
 * where the view did not just scroll.
 */
export const createScrolledPainter = () => {
  let last: { view: RollView; paint: ViewPainter; x: number; y: number } | null = null;
  return (
    canvas: CanvasRenderingContext2D,
    stays: boolean,
    { x, y }: Corner,
    view: RollView,
    paint: ViewPainter,
  ): void => {
    const ratio = canvas.getTransform().a;
    const same = stays && last?.paint === paint && last.x === x && last.y === y ? last : null;
    const scrolled = same && scrolledBy(same.view, view, ratio);
    last = { view, paint, x, y };
    canvas.save();
    canvas.translate(x, y);
    if (scrolled) {
      const box = { x: x * ratio, y: y * ratio, width: view.width * ratio, height: view.height * ratio };
      const [dx, dy] = scrolled;
      if (dx !== 0 || dy !== 0) move(canvas, box, dx, dy);
      for (const area of uncovered(view, dx / ratio, dy / ratio)) paintArea(canvas, view, area, paint);
    } else {
      canvas.clearRect(-x, -y, canvas.canvas.width / ratio, canvas.canvas.height / ratio);
      paintArea(canvas, view, { x: 0, y: 0, width: view.width, height: view.height }, paint);
    }
    canvas.restore();
  };
};
