/**
 * What the hand does in the roll: a pure machine of (state, event) to what is shown and what is changed. The preview of a
 * drag is the very Edit that letting go would carry out, applied to the notes on view.
 */
import {
  type Arrangement,
  drawNote,
  type Edit,
  isSelected,
  moveNotes,
  moveSharedEdge,
  NOTHING,
  type PartId,
  partById,
  type Selection,
  selectionOf,
  toggledIn,
  trimNotes,
} from '@crispfold/core';
import { indexAt, snapDistance, snapTick, type Target, targetAt } from './gestures.js';
import type { RollNote, RollPart } from './layers.js';
import { notesInBox } from './noteIndex.js';
import { pitchOfY, type RollView, type Rows, tickOfX, xOfTick } from './rollView.js';

/** All that a gesture depends on besides the pointer. Places are in the roll's own pixels, the ruler above 0. */
export interface Scene {
  readonly arrangement: Arrangement;
  readonly view: RollView;
  readonly rows: Rows;
  /** Parts on view, the front part last. */
  readonly parts: readonly RollPart[];
  /** The front part where it is on view; a hidden one takes no edits. */
  readonly frontPartId: PartId | null;
  readonly selection: Selection;
  /** Infinite where the crease is at home. */
  readonly creaseTick: number;
  readonly endTick: number;
  readonly drawing: boolean;
  /** Ticks of the grid snapped to; 0 where it is off. */
  readonly unit: number;
  /** Where the bar that holds a tick begins. */
  readonly barStart: (tick: number) => number;
}

/** A note of a part. */
interface PartNote {
  readonly partId: PartId;
  readonly note: RollNote;
}

type Drag =
  | { readonly kind: 'crease' }
  | { readonly kind: 'ruler'; readonly startTick: number }
  | { readonly kind: 'box'; readonly adding: boolean }
  | ({ readonly kind: 'move'; readonly pitch: number; readonly adding: boolean } & PartNote)
  | ({ readonly kind: 'trim'; readonly edge: 'start' | 'end' } & PartNote)
  | { readonly kind: 'seam'; readonly partId: PartId; readonly first: RollNote; readonly second: RollNote }
  | { readonly kind: 'draw'; readonly partId: PartId; readonly onset: number; readonly pitch: number }
  | { readonly kind: 'read' };

/** What the hand is about; `moved` once it has gone further than a click does. */
export type PointerState =
  | { readonly kind: 'idle' }
  | { readonly kind: 'pressed'; readonly drag: Drag; readonly x: number; readonly y: number; readonly moved: boolean };

/** What happened, in the roll's own pixels. */
export type PointerInput =
  | { readonly type: 'press'; readonly x: number; readonly y: number; readonly adding: boolean }
  | { readonly type: 'move'; readonly x: number; readonly y: number }
  | { readonly type: 'release'; readonly x: number; readonly y: number }
  /** The press that opens the menu. */
  | { readonly type: 'menu'; readonly x: number; readonly y: number }
  | { readonly type: 'cancel' };

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
  readonly box: SelectingBox | null;
}

/** What comes of an event; what is left out stays as it is. */
export interface Outcome {
  readonly state: PointerState;
  readonly draft: Draft;
  /** To be carried out now. */
  readonly edit?: Edit;
  readonly selection?: Selection;
  /** The part to bring forward. */
  readonly front?: PartId;
  readonly creaseTick?: number;
  readonly loop?: { readonly start: number; readonly end: number };
  /** Where the playhead goes. */
  readonly seek?: number;
  /** A note to be heard. */
  readonly sound?: { readonly partId: PartId; readonly pitch: number; readonly velocity: number };
}

const IDLE: PointerState = { kind: 'idle' };
const NO_DRAFT: Draft = { edit: null, box: null };
const RESTING: Outcome = { state: IDLE, draft: NO_DRAFT };

/** The state before anything happened. */
export const restingPointer: PointerState = IDLE;

/** Pixels about the crease within which it is grabbed. */
const CREASE_REACH = 5;
/** Size of its folded corner, in the ruler. */
export const FOLD_SIZE = 22;
/** A press that moves less than this is a click. */
const CLICK_REACH = 3;
/** Loudness of a drawn note. */
const DRAWN_VELOCITY = 80;
/** Shortest drawn note where snapping is off, in pixels. */
const SHORTEST_DRAWN = 10;

/** True where a press would take hold of the crease. */
export const isOnCrease = ({ view, creaseTick }: Pick<Scene, 'view' | 'creaseTick'>, x: number, y: number): boolean => {
  const at = Math.max(0, Math.min(view.width, xOfTick(view, creaseTick)));
  if (y < 0) return x >= at - FOLD_SIZE && x <= at + 4;
  return Math.abs(x - at) <= CREASE_REACH && Number.isFinite(creaseTick);
};

const snapped = ({ unit, barStart }: Scene, tick: number): number => Math.max(0, snapTick(tick, unit, barStart(tick)));

const targetIn = (scene: Scene, part: RollPart, x: number, y: number): Target =>
  targetAt(indexAt(part.played, part.written, tickOfX(scene.view, x), scene.creaseTick), scene.view, scene.rows, x, y);

const frontOf = (scene: Scene): RollPart | undefined =>
  scene.parts.find((candidate) => candidate.partId === scene.frontPartId);

/** What lies under a place in the front part. */
export const targetUnder = (scene: Scene, x: number, y: number): Target => {
  const front = frontOf(scene);
  return front ? targetIn(scene, front, x, y) : { kind: 'empty' };
};

/** The uppermost note under a place, of the front part or one behind it. */
const noteUnder = (scene: Scene, x: number, y: number): PartNote | undefined => {
  for (const part of [...scene.parts].reverse()) {
    const found = targetIn(scene, part, x, y);
    if (found.kind !== 'empty') return { partId: part.partId, note: found.kind === 'seam' ? found.first : found.note };
  }
  return undefined;
};

/** The selection after a press on a note: plain keeps it where the note is in it, adding takes the note in or out. */
const selectionAfterPress = ({ selection }: Scene, { partId, note }: PartNote, adding: boolean): Selection => {
  const own = selectionOf(partId, [note.id]);
  if (adding) return toggledIn(selection, own);
  return isSelected(selection, partId, note.id) ? selection : own;
};

const soundOf = ({ partId, note }: PartNote): NonNullable<Outcome['sound']> => ({
  partId,
  pitch: note.pitch,
  velocity: note.velocity,
});

const pressed = (drag: Drag, x: number, y: number): Outcome => ({
  state: { kind: 'pressed', drag, x, y, moved: false },
  draft: NO_DRAFT,
});

const press = (scene: Scene, x: number, y: number, adding: boolean): Outcome => {
  const tick = tickOfX(scene.view, x);
  if (isOnCrease(scene, x, y)) return pressed({ kind: 'crease' }, x, y);
  if (y < 0) return pressed({ kind: 'ruler', startTick: snapped(scene, tick) }, x, y);
  const pitch = pitchOfY(scene.view, scene.rows, y) ?? 60;
  const readOnly = tick >= scene.creaseTick;
  const { frontPartId } = scene;
  if (scene.drawing && !readOnly && frontPartId !== null) {
    const onset = snapped(scene, tick - scene.unit / 2);
    const drag: Drag = { kind: 'draw', partId: frontPartId, onset, pitch };
    return { ...pressed(drag, x, y), sound: { partId: frontPartId, pitch, velocity: DRAWN_VELOCITY } };
  }
  const found = targetUnder(scene, x, y);
  if (found.kind === 'empty' || frontPartId === null) return pressed({ kind: 'box', adding }, x, y);
  if (found.kind === 'seam') {
    const { first, second } = found;
    return pressed(readOnly ? { kind: 'read' } : { kind: 'seam', partId: frontPartId, first, second }, x, y);
  }
  const own: PartNote = { partId: frontPartId, note: found.note };
  const selection = selectionAfterPress(scene, own, adding);
  const held = isSelected(selection, own.partId, own.note.id);
  const drag: Drag =
    readOnly || !held
      ? { kind: 'read' }
      : found.kind === 'edge'
        ? { kind: 'trim', edge: found.edge, ...own }
        : { kind: 'move', pitch, adding, ...own };
  return { ...pressed(drag, x, y), selection, sound: soundOf(own) };
};

/** What a drag takes along: the selection without parts that are hidden. */
const selectionOnView = ({ selection, parts }: Scene): Selection =>
  new Map([...selection].filter(([partId]) => parts.some((part) => part.partId === partId)));

/** The Edit that letting go at a place would carry out. */
const editOf = (scene: Scene, drag: Drag, from: { readonly x: number }, x: number, y: number): Edit | null => {
  const { arrangement, view, rows } = scene;
  switch (drag.kind) {
    case 'move': {
      const byTicks = snapDistance((x - from.x) * view.ticksPerPixel, scene.unit);
      const bySemitones = (pitchOfY(view, rows, y) ?? drag.pitch) - drag.pitch;
      return moveNotes(arrangement, selectionOnView(scene), { byTicks, bySemitones });
    }
    case 'trim': {
      const edge = drag.edge === 'start' ? drag.note.onset : drag.note.onset + drag.note.duration;
      return trimNotes(arrangement, selectionOnView(scene), drag.edge, snapped(scene, tickOfX(view, x)) - edge);
    }
    case 'seam': {
      const at = snapped(scene, tickOfX(view, x));
      const edge = {
        ends: selectionOf(drag.partId, [drag.first.id]),
        starts: selectionOf(drag.partId, [drag.second.id]),
      };
      return moveSharedEdge(arrangement, edge, at - drag.second.onset);
    }
    case 'draw': {
      const shortest = Math.max(1, scene.unit || SHORTEST_DRAWN * view.ticksPerPixel);
      const duration = Math.max(shortest, snapped(scene, tickOfX(view, x)) - drag.onset);
      const { onset, pitch } = drag;
      return drawNote(arrangement, drag.partId, { pitch, onset, duration, velocity: DRAWN_VELOCITY });
    }
    case 'crease':
    case 'ruler':
    case 'box':
    case 'read':
      return null;
    default:
      return drag satisfies never;
  }
};

const dragged = (scene: Scene, state: Extract<PointerState, { kind: 'pressed' }>, x: number, y: number): Outcome => {
  const moved = state.moved || Math.hypot(x - state.x, y - state.y) > CLICK_REACH;
  const next = { ...state, moved };
  if (!moved) return { state: next, draft: NO_DRAFT };
  const tick = tickOfX(scene.view, x);
  const { drag } = state;
  if (drag.kind === 'crease') {
    return { state: next, draft: NO_DRAFT, creaseTick: Math.max(0, Math.min(scene.endTick, Math.round(tick))) };
  }
  if (drag.kind === 'ruler') {
    const at = snapped(scene, tick);
    const loop = { start: Math.min(at, drag.startTick), end: Math.max(at, drag.startTick) };
    return { state: next, draft: NO_DRAFT, ...(at === drag.startTick ? {} : { loop }) };
  }
  if (drag.kind === 'box') {
    return { state: next, draft: { edit: null, box: { x1: state.x, y1: state.y, x2: x, y2: y } } };
  }
  return { state: next, draft: { edit: editOf(scene, drag, state, x, y), box: null } };
};

/** Notes of the front part that a box touches. */
const boxed = (scene: Scene, a: { x: number; y: number }, b: { x: number; y: number }): Selection => {
  const front = frontOf(scene);
  if (!front) return NOTHING;
  const { view, rows } = scene;
  const [top, bottom] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
  const box = {
    start: tickOfX(view, Math.min(a.x, b.x)),
    end: tickOfX(view, Math.max(a.x, b.x)),
    highest: pitchOfY(view, rows, Math.max(-view.top, top)) ?? 127,
    lowest: pitchOfY(view, rows, bottom) ?? rows.pitches[rows.pitches.length - 1] ?? 0,
  };
  const index = indexAt(front.played, front.written, box.start, scene.creaseTick);
  return selectionOf(
    front.partId,
    notesInBox(index, box).map((note) => note.id),
  );
};

/** A click on empty ground: a note of a part behind brings that part forward; else nothing stays selected. */
const clickOnEmpty = (scene: Scene, x: number, y: number, adding: boolean): Outcome => {
  const found = noteUnder(scene, x, y);
  if (found) {
    const own = selectionOf(found.partId, [found.note.id]);
    const selection = adding ? toggledIn(scene.selection, own) : own;
    return { ...RESTING, front: found.partId, selection, sound: soundOf(found) };
  }
  return adding ? RESTING : { ...RESTING, selection: NOTHING };
};

const released = (scene: Scene, state: Extract<PointerState, { kind: 'pressed' }>, x: number, y: number): Outcome => {
  const { drag } = state;
  if (!state.moved && drag.kind !== 'draw') {
    if (drag.kind === 'ruler') return { ...RESTING, seek: drag.startTick };
    if (drag.kind === 'box') return clickOnEmpty(scene, state.x, state.y, drag.adding);
    if (drag.kind === 'move' && !drag.adding) {
      return { ...RESTING, selection: selectionOf(drag.partId, [drag.note.id]) };
    }
    return RESTING;
  }
  if (drag.kind === 'box') {
    const found = boxed(scene, state, { x, y });
    return { ...RESTING, selection: drag.adding ? toggledIn(scene.selection, found) : found };
  }
  const edit = editOf(scene, drag, state, x, y);
  if (!edit) return RESTING;
  if (drag.kind === 'draw') {
    return { ...RESTING, edit, selection: selectionOf(drag.partId, [scene.arrangement.nextNoteId]) };
  }
  const change = edit.changes.find((candidate) => candidate.kind === 'notes');
  const after = drag.kind === 'move' && change?.changed.find((pair) => pair.after.id === drag.note.id)?.after;
  const part = drag.kind === 'move' ? partById(scene.arrangement, drag.partId) : undefined;
  const sounds = after && part && after.pitch !== drag.note.pitch;
  return {
    ...RESTING,
    edit,
    ...(sounds ? { sound: { partId: part.id, pitch: after.pitch, velocity: after.velocity } } : {}),
  };
};

/** A press for the menu: what it lies on becomes the selection, so that the menu is about it. */
const menu = (scene: Scene, x: number, y: number): Outcome => {
  const found = y < 0 ? undefined : noteUnder(scene, x, y);
  if (!found || isSelected(scene.selection, found.partId, found.note.id)) return RESTING;
  return { ...RESTING, front: found.partId, selection: selectionOf(found.partId, [found.note.id]) };
};

/** What comes of an event. */
export const afterPointer = (state: PointerState, input: PointerInput, scene: Scene): Outcome => {
  switch (input.type) {
    case 'press':
      return press(scene, input.x, input.y, input.adding);
    case 'move':
      return state.kind === 'pressed' ? dragged(scene, state, input.x, input.y) : RESTING;
    case 'release':
      return state.kind === 'pressed' ? released(scene, state, input.x, input.y) : RESTING;
    case 'menu':
      return menu(scene, input.x, input.y);
    case 'cancel':
      return RESTING;
    default:
      return input satisfies never;
  }
};
