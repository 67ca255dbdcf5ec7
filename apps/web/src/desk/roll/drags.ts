/** What a drag would do: for each kind of drag the Edit that letting go here would carry out, and what is shown beside it. */

import {
  type Arrangement,
  changePoints,
  changeVelocities,
  drawNote,
  drawRepeats,
  duplicateNotes,
  type Edit,
  fitAmong,
  intersectionOf,
  moveKey,
  moveMarker,
  moveMeter,
  moveNotes,
  moveSharedEdge,
  type PartId,
  partById,
  type Selection,
  type SharedEdge,
  selectionAmong,
  setLengths,
  trimNotes,
  unionOf,
} from '@crispfold/core';
import type { SnapTo } from '../state/editingSlice.js';
import { pitchOfY, type RollView, type Rows, tickOfX } from '../state/rollView.js';
import { edgesNear, type NearEdge, type PartNote, type Pressing, snapDistance, snapTick } from './gestures.js';
import type { RollPart } from './layers.js';
import type { RulerSign } from './rulerLabels.js';

/** All that a gesture depends on besides the pointer. Places are in the roll's own pixels, the ruler above 0. */
export interface Scene {
  readonly arrangement: Arrangement;
  readonly view: RollView;
  readonly rows: Rows;
  /** Height of what stands above the notes: the ruler, and a recording. */
  readonly head: number;
  /** Parts on view, the front part last. */
  readonly parts: readonly RollPart[];
  readonly pressing: Pressing;
  /** The front part, where it can be edited: hidden and locked ones cannot. */
  readonly frontPartId: PartId | null;
  /** Parts on view that can be edited. */
  readonly open: ReadonlySet<PartId>;
  /** Parts that a press picks from: the front part, or all that can be edited. */
  readonly reach: 'front' | 'all';
  readonly selection: Selection;
  /** While set, these notes alone are seen, and a drag takes no others along. */
  readonly within: Selection | null;
  /** What of a part a press can pick: all of it, or the voice or staff that is brought forward. */
  readonly held: (part: RollPart) => RollPart;
  /** Infinite where the crease is at home. */
  readonly creaseTick: number;
  readonly endTick: number;
  readonly drawing: boolean;
  /** How drawn notes are made. */
  readonly drawn: DrawnAs;
  /** Ticks of the grid snapped to; 0 where it is off. */
  readonly unit: number;
  /** Where the grid is the page's own divisions, not one value: the nearest of its lines. */
  readonly lineNear: ((tick: number) => number) | null;
  /** What a drag snaps to. */
  readonly snapTo: SnapTo;
  /** Where the bar that holds a tick begins. */
  readonly barStart: (tick: number) => number;
}

/** Where a sign of the ruler stands, in ticks. */
export const tickOfSign = ({ tempos }: Pick<Arrangement, 'tempos'>, sign: RulerSign): number => {
  if (sign.kind === 'marker') return sign.marker.tick;
  if (sign.kind === 'meter') return sign.meter.tick;
  return sign.kind === 'key' ? sign.key.tick : (tempos[sign.index]?.tick ?? 0);
};

/** A sign of the ruler so many ticks further: meters and keys go to bar lines, the others to the grid. */
const signMoved = (scene: Scene, sign: RulerSign, by: number): Edit | null => {
  const { arrangement } = scene;
  const from = tickOfSign(arrangement, sign);
  if (sign.kind === 'meter') return moveMeter(arrangement, sign.meter, from + by);
  if (sign.kind === 'key') return moveKey(arrangement, sign.key, from + by);
  const at = snapped(scene, from + by);
  if (at === from) return null;
  if (sign.kind === 'marker') return moveMarker(arrangement, sign.marker, at);
  // The piece begins in some tempo: that one stays.
  return sign.index === 0
    ? null
    : changePoints(
        arrangement,
        null,
        { kind: 'tempo' },
        new Set([sign.index]),
        (point) => ({ ...point, tick: at }),
        'Move the tempo',
      );
};

/** How a drawn note is made; `length` in ticks, null for that of the grid. */
export interface DrawnAs {
  readonly length: number | null;
  readonly velocity: number;
  /** True where it takes start and loudness from the chord or the neighbours it joins. */
  readonly fits: boolean;
}

/** What the hand asks of a drag by keys, held or pressed while it lasts. */
export interface Wishes {
  /** Kept to one direction. */
  readonly along: 'time' | 'pitch' | null;
  /** A copy is dragged, and what was there stays. */
  readonly copy: boolean;
  /** All get the same value, instead of so much more or less each. */
  readonly same: boolean;
  /** Up and down is loudness. */
  readonly loudness: boolean;
  /** What is drawn is cut into repeats of the grid's value. */
  readonly repeats: boolean;
}

/** No wish. */
export const NO_WISHES: Wishes = { along: null, copy: false, same: false, loudness: false, repeats: false };

/** What is being dragged. */
export type Drag =
  | { readonly kind: 'crease' }
  | { readonly kind: 'ruler'; readonly startTick: number }
  | { readonly kind: 'sign'; readonly sign: RulerSign }
  | { readonly kind: 'box'; readonly adding: boolean }
  | ({ readonly kind: 'move'; readonly pitch: number; readonly adding: boolean } & PartNote)
  | ({ readonly kind: 'trim'; readonly edge: 'start' | 'end' } & PartNote)
  | { readonly kind: 'seam'; readonly shared: SharedEdge }
  | { readonly kind: 'draw'; readonly partId: PartId; readonly place: number; readonly pitch: number }
  | { readonly kind: 'read' };

/** The selecting box, in pixels of the roll. */
export interface SelectingBox {
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
}

/** What is shown while a drag lasts. */
export interface Draft {
  /** What letting go would do. */
  readonly edit: Edit | null;
  /** What would then be selected, where that is another selection. */
  readonly selection?: Selection;
  readonly box: SelectingBox | null;
  /** Edges of other notes near what is dragged. */
  readonly near: readonly NearEdge[];
  /** A number that changes with the drag, and where it is shown. */
  readonly figure?: { readonly text: string; readonly x: number; readonly y: number };
}

/** Nothing is shown. */
export const NO_DRAFT: Draft = { edit: null, box: null, near: [] };

/** Edges of other notes within so many pixels are marked… */
const NEAR_PIXELS = 40;
/** …and within so many a drag snaps to them. */
const SNAP_PIXELS = 7;
/** Pixels up or down for one step of loudness. */
const PIXELS_PER_VELOCITY = 1.5;
/** Shortest drawn note where snapping is off, in pixels. */
const SHORTEST_DRAWN = 10;
/** How far from its place a drawn note looks for neighbours, in quarters. */
const FIT_REACH = 4;

/** A tick on the grid. */
export const snapped = ({ unit, barStart, lineNear }: Scene, tick: number): number =>
  Math.max(0, Math.round(lineNear && unit > 0 ? lineNear(tick) : snapTick(tick, unit, barStart(tick))));

/** What a drag takes along: what is selected and seen, in parts that can be edited. */
const selectionInHand = ({ selection, open, within }: Scene): Selection => {
  const among = selectionAmong(selection, open);
  return within ? intersectionOf(among, within) : among;
};

/** Edges of notes that are not dragged, near a tick. */
const nearEdges = (scene: Scene, tick: number, dragged: Selection): readonly NearEdge[] =>
  edgesNear(
    scene.parts,
    tick,
    NEAR_PIXELS * scene.view.ticksPerPixel,
    (partId, id) => dragged.get(partId)?.has(id) ?? false,
  );

/** Where what is dragged to a tick lands: on the grid, on another note's edge, or on whichever is nearer. */
const landing = (scene: Scene, tick: number, near: readonly NearEdge[], onGrid = snapped(scene, tick)): number => {
  if (scene.snapTo === 'grid') return onGrid;
  const reach = SNAP_PIXELS * scene.view.ticksPerPixel;
  const edge = near.find(({ distance }) => Math.abs(distance) <= reach)?.tick;
  if (edge === undefined) return scene.snapTo === 'both' ? onGrid : Math.max(0, Math.round(tick));
  const gridIsNearer = scene.snapTo === 'both' && Math.abs(onGrid - tick) < Math.abs(edge - tick);
  return gridIsNearer ? onGrid : edge;
};

/** A point of the roll. */
interface Point {
  readonly x: number;
  readonly y: number;
}

const moved = (scene: Scene, drag: Extract<Drag, { kind: 'move' }>, from: Point, to: Point, wishes: Wishes): Draft => {
  const { arrangement, view, rows } = scene;
  const selection = selectionInHand(scene);
  if (wishes.loudness) return louder(scene, drag, from, to, wishes);
  const distance = wishes.along === 'pitch' ? 0 : (to.x - from.x) * view.ticksPerPixel;
  const wanted = drag.note.onset + distance;
  const near = distance === 0 ? [] : nearEdges(scene, wanted, selection);
  // A move goes by whole steps of the grid, so that a note keeps its own place beside the line.
  const { lineNear, unit } = scene;
  const byGrid =
    lineNear && unit > 0 ? Math.round(lineNear(wanted) - lineNear(drag.note.onset)) : snapDistance(distance, unit);
  const byTicks = distance === 0 ? 0 : landing(scene, wanted, near, drag.note.onset + byGrid) - drag.note.onset;
  const bySemitones = wishes.along === 'time' ? 0 : (pitchOfY(view, rows, to.y) ?? drag.pitch) - drag.pitch;
  if (!wishes.copy) return { ...NO_DRAFT, edit: moveNotes(arrangement, selection, { byTicks, bySemitones }), near };
  const copy = byTicks === 0 && bySemitones === 0 ? null : duplicateNotes(arrangement, selection, byTicks, bySemitones);
  return copy?.ok ? { ...NO_DRAFT, edit: copy.value.edit, selection: copy.value.selection, near } : NO_DRAFT;
};

const louder = (scene: Scene, drag: PartNote, from: Point, to: Point, wishes: Wishes): Draft => {
  const by = Math.round((from.y - to.y) / PIXELS_PER_VELOCITY);
  const velocity = Math.max(1, Math.min(127, drag.note.velocity + by));
  const change = wishes.same ? { to: velocity } : { by };
  return {
    ...NO_DRAFT,
    edit: changeVelocities(scene.arrangement, selectionInHand(scene), change),
    figure: { text: `velocity ${velocity}`, ...to },
  };
};

const trimmed = (scene: Scene, drag: Extract<Drag, { kind: 'trim' }>, to: Point, wishes: Wishes): Draft => {
  const selection = selectionInHand(scene);
  const { note, edge } = drag;
  const now = edge === 'start' ? note.onset : note.onset + note.duration;
  const tick = tickOfX(scene.view, to.x);
  const near = nearEdges(scene, tick, selection);
  const at = landing(scene, tick, near);
  const length = edge === 'start' ? note.onset + note.duration - at : at - note.onset;
  const edit = wishes.same
    ? setLengths(scene.arrangement, selection, edge, length)
    : trimNotes(scene.arrangement, selection, edge, at - now);
  return { ...NO_DRAFT, edit, near };
};

/** What a note drawn at a place would be, to a given end. */
const drawing = (scene: Scene, drag: Extract<Drag, { kind: 'draw' }>, toTick: number | null, wishes: Wishes): Draft => {
  const { arrangement, unit, view, drawn } = scene;
  const shortest = Math.max(1, drawn.length ?? (unit || SHORTEST_DRAWN * view.ticksPerPixel));
  const end = Math.max(drag.place + shortest, toTick === null ? 0 : snapped(scene, toTick));
  const notes = partById(arrangement, drag.partId)?.notes ?? [];
  const reach = FIT_REACH * arrangement.ppq;
  const grid = unit || arrangement.ppq / 4;
  const nearestLine = (tick: number) => snapTick(tick, grid, scene.barStart(tick));
  const fit = drawn.fits ? fitAmong(notes, drag.place, { grid, reach, nearestLine }) : null;
  const onset = fit?.onset ?? drag.place;
  const velocity = fit?.velocity ?? drawn.velocity;
  const duration = toTick === null || end === drag.place + shortest ? shortest : end - onset;
  const note = { pitch: drag.pitch, onset, duration, velocity };
  const edit =
    wishes.repeats && unit > 0
      ? drawRepeats(arrangement, drag.partId, { ...note, duration: end - onset }, unit)
      : drawNote(arrangement, drag.partId, note);
  return { ...NO_DRAFT, edit };
};

/** The note that a click here would draw, shown before the click. */
export const noteToDraw = (scene: Scene, x: number, y: number): Draft => {
  const pitch = pitchOfY(scene.view, scene.rows, y);
  const tick = tickOfX(scene.view, x);
  if (pitch === undefined || scene.frontPartId === null || y < 0 || tick >= scene.creaseTick) return NO_DRAFT;
  const place = snapped(scene, tick - scene.unit / 2);
  return drawing(scene, { kind: 'draw', partId: scene.frontPartId, place, pitch }, null, NO_WISHES);
};

/** What letting go at a place would do. */
export const draftOf = (scene: Scene, drag: Drag, from: Point, to: Point, wishes: Wishes): Draft => {
  switch (drag.kind) {
    case 'move':
      return moved(scene, drag, from, to, wishes);
    case 'trim':
      return trimmed(scene, drag, to, wishes);
    case 'seam': {
      const { ends, starts, at } = drag.shared;
      const tick = tickOfX(scene.view, to.x);
      const near = nearEdges(scene, tick, unionOf(ends, starts));
      return {
        ...NO_DRAFT,
        edit: moveSharedEdge(scene.arrangement, { ends, starts }, landing(scene, tick, near) - at),
        near,
      };
    }
    case 'draw':
      return drawing(scene, drag, tickOfX(scene.view, to.x), wishes);
    case 'sign':
      return { ...NO_DRAFT, edit: signMoved(scene, drag.sign, (to.x - from.x) * scene.view.ticksPerPixel) };
    case 'box':
      return { ...NO_DRAFT, box: { x1: from.x, y1: from.y, x2: to.x, y2: to.y } };
    case 'crease':
    case 'ruler':
    case 'read':
      return NO_DRAFT;
    default:
      return drag satisfies never;
  }
};
