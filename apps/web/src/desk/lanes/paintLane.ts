/** Draws a lane: stems for velocities, lines that step or ramp for everything else. */
import { type Bar, type Lane, type LanePoint, lastIndexAtOrBefore, onRamp, type PointDrawn } from '@crispfold/core';
import type { Palette } from '../controls/palette.js';
import { type LaneScale, type LaneView, yOfValue } from './strokes.js';

type Canvas = CanvasRenderingContext2D;

/** What of a lane is drawn. */
export interface LanePicture {
  readonly lane: Lane;
  /** Part by part, the front part last; velocities of all parts are one layer. */
  readonly layers: readonly LaneLayer[];
  /** The hue of a stem, by its note. */
  readonly hueOf: (id: number) => string;
  readonly scale: LaneScale;
  readonly chosen: ReadonlySet<number>;
  /** Notes that are selected in the roll, in the velocity lane. */
  readonly selected: ReadonlySet<number>;
  readonly bars: readonly Bar[];
  /** Where no point has been yet. */
  readonly rest: number;
  /** What letting go would leave. */
  readonly draft: readonly PointDrawn[];
  readonly box: { readonly x1: number; readonly y1: number; readonly x2: number; readonly y2: number } | null;
  readonly palette: Palette;
}

/** The points of a part, in its hue. */
export interface LaneLayer {
  readonly points: readonly LanePoint[];
  readonly hue: string;
}

const xOf = (view: LaneView, tick: number): number => (tick - view.left) / view.ticksPerPixel;

/** Pixels from one piece of a curved ramp to the next. */
const PIECE = 6;
/** Stems of one chord stand so far apart, in pixels. */
const STEM = 4;

/** The points about the window: one before it and one after, so that lines go on. */
const inView = <Point extends { readonly tick: number }>(
  points: readonly Point[],
  view: LaneView,
): readonly Point[] => {
  const end = view.left + view.width * view.ticksPerPixel;
  const first = lastIndexAtOrBefore(points, view.left, tickOf);
  const last = lastIndexAtOrBefore(points, end, tickOf);
  return points.slice(Math.max(0, first), last + 2);
};

const tickOf = ({ tick }: { readonly tick: number }): number => tick;

/** With more points than so many a pixel, single ones cannot be told apart: their least and most is drawn, pixel by pixel. */
const MOST_A_PIXEL = 2;

const tooMany = (points: readonly unknown[], view: LaneView): boolean => points.length > view.width * MOST_A_PIXEL;

/** From the least to the most value of each pixel, as one path; from the bottom where `stems`. */
const paintDense = (
  canvas: Canvas,
  view: LaneView,
  { scale }: LanePicture,
  { points, hue }: LaneLayer,
  stems: boolean,
) => {
  canvas.fillStyle = hue;
  canvas.beginPath();
  for (let index = 0; index < points.length; ) {
    const x = Math.floor(xOf(view, (points[index] as LanePoint).tick));
    const until = view.left + (x + 1) * view.ticksPerPixel;
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let point = points[index]; point && point.tick < until; point = points[++index]) {
      if (point.value < low) low = point.value;
      if (point.value > high) high = point.value;
    }
    if (high < low) {
      index += 1;
      continue;
    }
    const top = yOfValue(view, scale, high);
    const bottom = stems ? view.height : yOfValue(view, scale, low);
    canvas.rect(x, top - 0.75, 1, bottom - top + 1.5);
  }
  canvas.fill();
};

export const paintLane = (canvas: Canvas, view: LaneView, picture: LanePicture): void => {
  const { lane, palette, bars, box } = picture;
  canvas.fillStyle = palette.sheet;
  canvas.fillRect(0, 0, view.width, view.height);
  canvas.fillStyle = palette.rule;
  for (const { start } of bars) {
    const x = xOf(view, start);
    if (x >= 0 && x <= view.width) canvas.fillRect(Math.round(x), 0, 1, view.height);
  }
  const middle = yOfValue(
    view,
    picture.scale,
    lane.kind === 'pitchBend' ? 8192 : (picture.scale.least + picture.scale.most) / 2,
  );
  canvas.fillRect(0, Math.round(middle), view.width, 1);
  for (const layer of picture.layers) {
    if (lane.kind === 'velocity') paintStems(canvas, view, picture, layer);
    else paintLine(canvas, view, picture, layer);
  }
  paintDraft(canvas, view, picture);
  if (!box) return;
  canvas.strokeStyle = palette.ink;
  canvas.setLineDash([4, 3]);
  canvas.strokeRect(box.x1, box.y1, box.x2 - box.x1, box.y2 - box.y1);
  canvas.setLineDash([]);
};

/** Stems that begin together stand side by side, the lowest note's first. */
const paintStems = (canvas: Canvas, view: LaneView, picture: LanePicture, { points, hue }: LaneLayer) => {
  const { scale, chosen, selected, hueOf, palette } = picture;
  const shown = inView(points, view);
  if (tooMany(shown, view)) {
    paintDense(canvas, view, picture, { points: shown, hue }, true);
    return;
  }
  let before = Number.NEGATIVE_INFINITY;
  let beside = 0;
  for (const { id, tick, value } of shown) {
    const x = xOf(view, tick);
    beside = x - before < STEM ? beside + 1 : 0;
    if (beside === 0) before = x;
    const at = before + beside * STEM;
    const top = yOfValue(view, scale, value);
    const marked = chosen.has(id) || selected.has(id);
    canvas.fillStyle = marked ? palette.fold : hueOf(id);
    canvas.globalAlpha = marked || selected.size === 0 ? 1 : 0.45;
    canvas.fillRect(at, top, 2, view.height - top);
    canvas.beginPath();
    canvas.arc(at + 1, top, marked ? 3.5 : 2.5, 0, Math.PI * 2);
    canvas.fill();
  }
  canvas.globalAlpha = 1;
};

const trace = (
  canvas: Canvas,
  view: LaneView,
  scale: LaneScale,
  points: readonly (PointDrawn & { readonly to?: number })[],
): void => {
  points.forEach((point, index) => {
    const x = xOf(view, point.tick);
    const y = yOfValue(view, scale, point.value);
    canvas.lineTo(x, y);
    const next = points[index + 1];
    const end = next ? xOf(view, next.tick) : view.width;
    if (point.ramp === null || !next) {
      canvas.lineTo(end, y);
      return;
    }
    const pieces = Math.max(1, Math.min(200, Math.ceil((end - x) / PIECE)));
    for (let piece = 1; piece <= pieces; piece += 1) {
      const value = onRamp(point.value, point.to ?? next.value, piece / pieces, point.ramp);
      canvas.lineTo(x + ((end - x) * piece) / pieces, yOfValue(view, scale, value));
    }
  });
};

const paintLine = (canvas: Canvas, view: LaneView, picture: LanePicture, { points, hue }: LaneLayer) => {
  const { scale, chosen, rest, palette } = picture;
  const shown = inView(points, view);
  if (tooMany(shown, view)) {
    paintDense(canvas, view, picture, { points: shown, hue }, false);
    return;
  }
  const start = yOfValue(view, scale, rest);
  const outline = () => {
    canvas.beginPath();
    const [first] = shown;
    if (!first || xOf(view, first.tick) > 0) {
      canvas.moveTo(0, start);
      canvas.lineTo(first ? xOf(view, first.tick) : view.width, start);
    }
    trace(canvas, view, scale, shown);
  };
  outline();
  canvas.lineTo(view.width, view.height);
  canvas.lineTo(0, view.height);
  canvas.closePath();
  canvas.fillStyle = hue;
  canvas.globalAlpha = 0.18;
  canvas.fill();
  canvas.globalAlpha = 1;
  outline();
  canvas.strokeStyle = hue;
  canvas.lineWidth = 1.5;
  canvas.stroke();
  for (const { id, tick, value, ramp } of shown) {
    const x = xOf(view, tick);
    const y = yOfValue(view, scale, value);
    canvas.fillStyle = chosen.has(id) ? palette.fold : hue;
    const size = chosen.has(id) ? 4 : 3;
    // A point that holds is a square, one that ramps a slanted one.
    canvas.save();
    canvas.translate(x, y);
    if (ramp !== null) canvas.rotate(Math.PI / 4);
    canvas.fillRect(-size, -size, size * 2, size * 2);
    canvas.restore();
  }
};

const paintDraft = (canvas: Canvas, view: LaneView, { draft, scale, palette }: LanePicture) => {
  const [first] = draft;
  if (!first) return;
  canvas.strokeStyle = palette.fold;
  canvas.lineWidth = 2;
  canvas.beginPath();
  canvas.moveTo(xOf(view, first.tick), yOfValue(view, scale, first.value));
  const last = draft[draft.length - 1] as PointDrawn;
  trace(canvas, { ...view, width: Math.min(view.width, xOf(view, last.tick)) }, scale, draft);
  canvas.stroke();
};
