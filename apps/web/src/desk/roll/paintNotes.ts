/** Draws notes: one batched path a part and shade, so that tens of thousands cost a handful of fills. */
import { pitchName } from '@crispfold/core';
import type { Palette } from '../controls/palette.js';
import type { Edge, PartLook } from '../controls/partLook.js';
import {
  headWidth,
  noteGap,
  noteHeight,
  type RollView,
  type Rows,
  tickOfX,
  xOfTick,
  yOfPitch,
} from '../state/rollView.js';
import type { HueFacts, Scale } from './hues.js';
import type { RollNote, RollPart } from './layers.js';
import { bracketsFit, cutFits, fillFits, nameFits, namesFit } from './marks.js';
import { type NoteIndex, rangeOf } from './noteIndex.js';

type Canvas = CanvasRenderingContext2D;

const FONT = '"Source Sans 3 Variable", sans-serif';
/** Where a note is drawn. */
interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** How deep the cut of the left edge is. */
const cutOf = ({ width, height }: Pick<Box, 'width' | 'height'>): number => Math.min(width * 0.4, height * 0.55, 8);

/** Adds a note's outline to the path, its left edge cut so that the part is known without its hue. */
const addOutline = (canvas: CanvasPath, { x, y, width, height }: Box, edge: Edge): void => {
  if (!cutFits(width, height)) {
    canvas.rect(x, y, width, height);
    return;
  }
  const cut = cutOf({ width, height });
  const right = x + width;
  const bottom = y + height;
  const middle = y + height / 2;
  canvas.moveTo(right, y);
  canvas.lineTo(right, bottom);
  switch (edge) {
    case 'straight':
      canvas.lineTo(x, bottom);
      canvas.lineTo(x, y);
      break;
    case 'slanted':
      canvas.lineTo(x, bottom);
      canvas.lineTo(x + cut, y);
      break;
    case 'notched':
      canvas.lineTo(x, bottom);
      canvas.lineTo(x + cut, middle);
      canvas.lineTo(x, y);
      break;
    case 'rounded':
      canvas.lineTo(x + cut, bottom);
      canvas.quadraticCurveTo(x - cut * 0.4, middle, x + cut, y);
      break;
    case 'pointed':
      canvas.lineTo(x + cut, bottom);
      canvas.lineTo(x, middle);
      canvas.lineTo(x + cut, y);
      break;
    case 'stepped':
      canvas.lineTo(x, bottom);
      canvas.lineTo(x, middle);
      canvas.lineTo(x + cut, middle);
      canvas.lineTo(x + cut, y);
      break;
    default:
      edge satisfies never;
  }
  canvas.closePath();
};

/** What decides how a part's notes are drawn. */
export interface NotePaint {
  readonly look: PartLook;
  readonly front: boolean;
  /** True where so many parts are on view that those behind have no outline. */
  readonly crowded: boolean;
  readonly selection: ReadonlySet<number>;
  /** Crease in ticks; Played before it, Written from it on. */
  readonly creaseTick: number;
  readonly palette: Palette;
  /** What hue shows; null for the part. */
  readonly scale: Scale | null;
  /** The other layer as an outline under the front part's. */
  readonly outline: boolean;
  /** True for notes that are dimmed because others are brought forward; null where none are. */
  readonly dimmed: ((note: RollNote, layer: 'played' | 'written') => boolean) | null;
  /** Names on the notes of the front part. */
  readonly names: 'room' | 'always' | 'never';
}

/** A paint with what is known of the notes it is for. */
interface LayerPaint extends Omit<NotePaint, 'dimmed'> {
  readonly dimmed: ((note: RollNote) => boolean) | null;
  readonly facts: ReadonlyMap<number, HueFacts>;
  readonly hits: boolean;
}

/** The shade of a note; 0 where hue shows the part. */
const shadeIn = ({ scale, facts }: Pick<LayerPaint, 'scale' | 'facts'>, note: RollNote): number =>
  scale ? scale.shadeOf(note, facts.get(note.id)) : 0;

/** The colours that a layer is painted in. */
const coloursOf = ({ scale, look }: Pick<LayerPaint, 'scale' | 'look'>): readonly string[] =>
  scale ? scale.shades.map((shade) => shade.colour) : [look.hue];

const boxOf = (view: RollView, rows: Rows, note: RollNote): Box => {
  const x = xOfTick(view, note.onset);
  return {
    x,
    y: yOfPitch(view, rows, note.pitch) + noteGap(view.rowHeight),
    width: Math.max(2, note.duration / view.ticksPerPixel - (view.ticksPerPixel < 8 ? 0.5 : 0)),
    height: noteHeight(view.rowHeight),
  };
};

/** Calls back for each note of the index that is on view. */
const eachOnView = (
  view: RollView,
  rows: Rows,
  index: NoteIndex<RollNote>,
  call: (note: RollNote, box: Box) => void,
): void => {
  const [first, last] = rangeOf(index, view.left, tickOfX(view, view.width));
  for (let at = first; at < last; at += 1) {
    const note = index.notes[at] as RollNote;
    const box = boxOf(view, rows, note);
    if (box.y + box.height < 0 || box.y > view.height || box.x + box.width < 0) continue;
    call(note, box);
  }
};

/** How much is left of notes while others are brought forward. */
const DIMMED = 0.16;

/** From this many ticks to the pixel on, notes are specks of a pixel or two. */
const COARSE_TICKS_PER_PIXEL = 48;

/** Boxes that grow row by row: what touches in one row becomes one box, in whole pixels. */
class GrowingBoxes {
  private readonly from = new Float64Array(128).fill(Number.NaN);
  private readonly to = new Float64Array(128).fill(Number.NEGATIVE_INFINITY);

  constructor(private readonly draw: (pitch: number, left: number, right: number) => void) {}

  /** Takes a box in; those of one row come in order of their left edges. */
  add(pitch: number, left: number, right: number): void {
    if (left > (this.to[pitch] as number)) {
      this.end(pitch);
      this.from[pitch] = left;
    }
    if (right > (this.to[pitch] as number)) this.to[pitch] = right;
  }

  /** Draws what has grown in a row, and begins anew. */
  end(pitch: number): void {
    const [left, right] = [this.from[pitch] as number, this.to[pitch] as number];
    if (right > left) this.draw(pitch, left, right);
    this.to[pitch] = Number.NEGATIVE_INFINITY;
  }
}

/**
 * Draws a layer seen from afar: whole pixels, none of them twice, and what touches in one row as one box. A path of tens
 * of thousands of overlapping boxes would take the rasteriser longer than a frame lasts. No record is made for a note.
 */
const paintCoarse = (
  canvas: Canvas,
  view: RollView,
  rows: Rows,
  index: NoteIndex<RollNote>,
  paint: LayerPaint,
): void => {
  const { look, front, selection, palette, scale, dimmed } = paint;
  const colours = coloursOf(paint);
  const gap = noteGap(view.rowHeight);
  const height = Math.round(noteHeight(view.rowHeight));
  const alpha = front ? 1 : 0.45;
  const fill = (pitch: number, left: number, right: number) =>
    canvas.fillRect(left, Math.round(yOfPitch(view, rows, pitch) + gap), right - left, height);
  const shades = new Uint8Array(128);
  let filled = -1;
  const bodies = new GrowingBoxes((pitch, left, right) => {
    const shade = shades[pitch] as number;
    // Setting a colour costs as much as a box.
    if (shade !== filled) canvas.fillStyle = colours[shade] as string;
    filled = shade;
    fill(pitch, left, right);
  });
  // Selected notes are of one colour, and stand over the others.
  const chosen: number[] = [];
  const chosenBoxes = new GrowingBoxes((pitch, left, right) => chosen.push(pitch, left, right));
  const faded: number[] = [];
  const fadedBoxes = new GrowingBoxes((pitch, left, right) => faded.push(pitch, left, right));
  canvas.save();
  canvas.globalAlpha = alpha;
  const [first, last] = rangeOf(index, view.left, tickOfX(view, view.width));
  for (let at = first; at < last; at += 1) {
    const note = index.notes[at] as RollNote;
    const { pitch } = note;
    const x = (note.onset - view.left) / view.ticksPerPixel;
    const left = Math.floor(x);
    const right = Math.ceil(x + Math.max(2, note.duration / view.ticksPerPixel));
    if (dimmed?.(note)) {
      fadedBoxes.add(pitch, left, right);
      continue;
    }
    if (selection.size > 0 && selection.has(note.id)) {
      chosenBoxes.add(pitch, left, right);
      continue;
    }
    if (scale) {
      const shade = scale.shadeOf(note, paint.facts.get(note.id));
      if (shade !== shades[pitch]) bodies.end(pitch);
      shades[pitch] = shade;
    }
    bodies.add(pitch, left, right);
  }
  for (const pitch of rows.pitches) {
    bodies.end(pitch);
    chosenBoxes.end(pitch);
    fadedBoxes.end(pitch);
  }
  const fillAll = (boxes: readonly number[]) => {
    for (let at = 0; at < boxes.length; at += 3) {
      fill(boxes[at] as number, boxes[at + 1] as number, boxes[at + 2] as number);
    }
  };
  canvas.globalAlpha = DIMMED;
  canvas.fillStyle = look.hue;
  fillAll(faded);
  canvas.globalAlpha = 1;
  canvas.fillStyle = palette.fold;
  fillAll(chosen);
  canvas.restore();
};

/** Outlines selected notes; where rows are low, fills them. */
const paintChosen = (canvas: Canvas, view: RollView, chosen: readonly Box[], palette: Palette): void => {
  if (chosen.length === 0) return;
  canvas.strokeStyle = palette.fold;
  canvas.lineWidth = 2.5;
  for (const box of chosen) canvas.strokeRect(box.x - 1, box.y - 1, box.width + 2, box.height + 2);
  if (fillFits(view)) return;
  canvas.fillStyle = palette.fold;
  for (const box of chosen) canvas.fillRect(box.x, box.y, box.width, box.height);
};

const paintLayer = (
  canvas: Canvas,
  view: RollView,
  rows: Rows,
  index: NoteIndex<RollNote>,
  paint: LayerPaint,
): void => {
  if (view.ticksPerPixel >= COARSE_TICKS_PER_PIXEL) {
    paintCoarse(canvas, view, rows, index, paint);
    return;
  }
  const { look, front, crowded, selection, palette, hits, names, dimmed } = paint;
  const colours = coloursOf(paint);
  const detailed = fillFits(view);
  const bodies = colours.map(() => new Path2D());
  const fills = colours.map(() => new Path2D());
  const silent = new Path2D();
  const faded = new Path2D();
  const chosen: Box[] = [];
  eachOnView(view, rows, index, (note, whole) => {
    const box = hits ? { ...whole, width: headWidth(view) } : whole;
    if (dimmed?.(note)) {
      addOutline(faded, box, look.edge);
      return;
    }
    if (selection.has(note.id)) chosen.push(box);
    if (note.muted) {
      addOutline(silent, box, look.edge);
      return;
    }
    const shade = shadeIn(paint, note);
    addOutline(bodies[shade] as Path2D, box, look.edge);
    if (front && detailed) {
      // Clear of the cut edge: clipping to all outlines would cost more than everything else together.
      const inset = cutFits(box.width, box.height) ? cutOf(box) : 0;
      const full = (box.height * note.velocity) / 127;
      (fills[shade] as Path2D).rect(box.x + inset, box.y + box.height - full, box.width - inset, full);
    }
  });
  canvas.save();
  canvas.lineWidth = 1;
  canvas.globalAlpha = DIMMED;
  canvas.fillStyle = look.hue;
  canvas.fill(faded);
  bodies.forEach((body, shade) => {
    const colour = colours[shade] as string;
    if (front && detailed) {
      canvas.fillStyle = palette.sheet;
      canvas.fill(body);
      canvas.globalAlpha = 0.35;
      canvas.fillStyle = colour;
      canvas.fill(body);
      canvas.globalAlpha = 1;
      canvas.save();
      canvas.clip(body);
      canvas.fill(fills[shade] as Path2D);
      canvas.restore();
    } else {
      canvas.globalAlpha = front ? 1 : crowded ? 0.42 : 0.3;
      canvas.fillStyle = colour;
      canvas.fill(body);
    }
    if (detailed && (front || !crowded)) {
      canvas.globalAlpha = front ? 1 : 0.65;
      canvas.strokeStyle = front ? palette.ink : colour;
      canvas.stroke(body);
    }
  });
  // A muted note is its outline alone, broken: there, and not heard.
  canvas.globalAlpha = front ? 1 : 0.65;
  canvas.strokeStyle = front ? palette.ink : look.hue;
  canvas.setLineDash([3, 2]);
  canvas.stroke(silent);
  canvas.setLineDash([]);
  canvas.globalAlpha = 1;
  paintChosen(canvas, view, chosen, palette);
  canvas.restore();
  if (front && !hits && namesFit(view, names)) {
    paintNoteNames(canvas, view, rows, index, paint);
  }
};

const paintNoteNames = (
  canvas: Canvas,
  view: RollView,
  rows: Rows,
  index: NoteIndex<RollNote>,
  { palette, names, dimmed }: LayerPaint,
): void => {
  const always = names === 'always';
  canvas.font = `600 ${Math.max(10, Math.min(13, view.rowHeight - 3))}px ${FONT}`;
  canvas.textBaseline = 'middle';
  canvas.textAlign = 'left';
  canvas.lineWidth = 3;
  canvas.lineJoin = 'round';
  canvas.strokeStyle = palette.sheet;
  canvas.fillStyle = palette.ink;
  eachOnView(view, rows, index, (note, box) => {
    const room = nameFits(box.width);
    if ((!always && !room) || dimmed?.(note)) return;
    const x = Math.max(box.x, 44) + (room ? 10 : 2);
    if (!always && x + 22 > box.x + box.width) return;
    const y = box.y + box.height / 2 + 0.5;
    canvas.strokeText(pitchName(note.pitch), x, y);
    canvas.fillText(pitchName(note.pitch), x, y);
  });
};

/** Thin brackets at both ends of the written span, where it differs from what was played. */
const paintBrackets = (
  canvas: Canvas,
  view: RollView,
  rows: Rows,
  index: NoteIndex<RollNote>,
  { palette, dimmed, front, selection }: LayerPaint,
): void => {
  // Of parts behind, only selected notes have them.
  if (!front && selection.size === 0) return;
  if (!bracketsFit(view)) return;
  canvas.beginPath();
  eachOnView(view, rows, index, (note, box) => {
    if (dimmed?.(note) || (!front && !selection.has(note.id))) return;
    const arm = Math.min(4, box.width / 3);
    const top = box.y - 1.5;
    const bottom = box.y + box.height + 1.5;
    canvas.moveTo(box.x + arm, top);
    canvas.lineTo(box.x, top);
    canvas.lineTo(box.x, bottom);
    canvas.lineTo(box.x + arm, bottom);
    canvas.moveTo(box.x + box.width - arm, top);
    canvas.lineTo(box.x + box.width, top);
    canvas.lineTo(box.x + box.width, bottom);
    canvas.lineTo(box.x + box.width - arm, bottom);
  });
  canvas.strokeStyle = palette.fold;
  canvas.lineWidth = 1.25;
  canvas.stroke();
};

/** The other layer, faint, under the one that is shown. */
const paintOutline = (
  canvas: Canvas,
  view: RollView,
  rows: Rows,
  index: NoteIndex<RollNote>,
  { palette, dimmed }: LayerPaint,
): void => {
  if (!fillFits(view) || view.ticksPerPixel >= COARSE_TICKS_PER_PIXEL) return;
  const outline = new Path2D();
  eachOnView(view, rows, index, (note, { x, y, width, height }) => {
    if (!dimmed?.(note)) outline.rect(x - 1, y - 1, width + 2, height + 2);
  });
  canvas.save();
  canvas.globalAlpha = 0.6;
  canvas.strokeStyle = palette.soft;
  canvas.lineWidth = 1;
  canvas.stroke(outline);
  canvas.restore();
};

const NO_FACTS: ReadonlyMap<number, HueFacts> = new Map();

/** Draws one part on both sides of the crease. */
export const paintPart = (canvas: Canvas, view: RollView, rows: Rows, part: RollPart, how: NotePaint): void => {
  const { dimmed } = how;
  const facts = how.scale ? part.facts() : NO_FACTS;
  const layerPaint = (layer: 'played' | 'written'): LayerPaint => ({
    ...how,
    facts,
    hits: part.hits,
    dimmed: dimmed && ((note) => dimmed(note, layer)),
  });
  const [played, written] = [layerPaint('played'), layerPaint('written')];
  const crease = xOfTick(view, how.creaseTick);
  const clipped = (from: number, to: number, draw: () => void) => {
    if (to <= 0 || from >= view.width || to <= from) return;
    canvas.save();
    canvas.beginPath();
    canvas.rect(Math.max(0, from), 0, Math.min(view.width, to) - Math.max(0, from), view.height);
    canvas.clip();
    draw();
    canvas.restore();
  };
  const outlined = how.front && how.outline && !part.hits;
  clipped(0, crease, () => {
    if (outlined) paintOutline(canvas, view, rows, part.written, written);
    paintLayer(canvas, view, rows, part.played, played);
    if (!part.hits) paintBrackets(canvas, view, rows, part.differing, written);
  });
  clipped(crease, view.width + 1, () => {
    if (outlined) paintOutline(canvas, view, rows, part.played, played);
    paintLayer(canvas, view, rows, part.written, written);
  });
};
