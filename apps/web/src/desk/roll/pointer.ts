/**
 * What the hand does in the roll: a pure machine of (state, event) to what is shown and what is changed. The preview of a
 * drag is the very Edit that letting go would carry out, applied to the notes on view.
 */
import {
  type Edit,
  isSelected,
  NOTHING,
  type PartId,
  partById,
  type Selection,
  selectionOf,
  sharedWithin,
  toggledIn,
} from '@crispfold/core';
import { headWidth, pitchOfY, type RollView, tickOfX, xOfTick } from '../state/rollView.js';
import {
  type Draft,
  type Drag,
  draftOf,
  NO_DRAFT,
  noteToDraw,
  type Scene,
  snapped,
  tickOfSign,
  type Wishes,
} from './drags.js';
import { indexAt, type PartNote, type Target, targetAt } from './gestures.js';
import type { RollPart } from './layers.js';
import { notesInBox, startsInBox } from './noteIndex.js';
import { type RulerSign, signLabels, signsOfRuler } from './rulerLabels.js';

/** What the hand is about; `moved` once it has gone further than a click does. */
export type PointerState =
  | { readonly kind: 'idle' }
  | { readonly kind: 'pressed'; readonly drag: Drag; readonly x: number; readonly y: number; readonly moved: boolean };

/** What happened, in the roll's own pixels. */
export type PointerInput =
  | { readonly type: 'press'; readonly x: number; readonly y: number; readonly adding: boolean }
  | { readonly type: 'move'; readonly x: number; readonly y: number; readonly wishes: Wishes }
  | { readonly type: 'release'; readonly x: number; readonly y: number; readonly wishes: Wishes }
  /** The pointer goes over the roll, pressed or not. */
  | { readonly type: 'hover'; readonly x: number; readonly y: number }
  /** The press that opens the menu. */
  | { readonly type: 'menu'; readonly x: number; readonly y: number }
  | { readonly type: 'cancel' };

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
const RESTING: Outcome = { state: IDLE, draft: NO_DRAFT };

/** The state before anything happened. */
export const restingPointer: PointerState = IDLE;

/** Pixels about the crease within which it is grabbed. */
const CREASE_REACH = 5;
/** Size of its folded corner, in the ruler. */
export const FOLD_SIZE = 22;
/** A press that moves less than this is a click. */
const CLICK_REACH = 3;

/** Where the crease is drawn: at the roll's edge where it lies outside, in pixels. */
export const creaseX = (view: RollView, creaseTick: number): number =>
  Math.max(0, Math.min(view.width, xOfTick(view, creaseTick)));

/** True where a press would take hold of the crease. */
export const isOnCrease = ({ view, creaseTick }: Pick<Scene, 'view' | 'creaseTick'>, x: number, y: number): boolean => {
  const at = creaseX(view, creaseTick);
  if (y < 0) return x >= at - FOLD_SIZE && x <= at + 4;
  return Math.abs(x - at) <= CREASE_REACH && Number.isFinite(creaseTick);
};

/** Parts in reach, the uppermost first. */
const inReach = ({ parts, open, reach, frontPartId, held }: Scene): RollPart[] =>
  parts
    .filter(({ partId }) => (reach === 'all' ? open.has(partId) : partId === frontPartId))
    .map(held)
    .reverse();

const targetIn = (scene: Scene, parts: readonly RollPart[], x: number, y: number): Target =>
  targetAt(parts, { ...scene, seamWithin: sharedWithin(scene.arrangement.ppq) }, x, y);

/** What lies under a place, in the parts in reach. */
export const targetUnder = (scene: Scene, x: number, y: number): Target => targetIn(scene, inReach(scene), x, y);

/** The uppermost note under a place, of any part on view. */
const noteUnder = (scene: Scene, x: number, y: number): PartNote | undefined => {
  const found = targetIn(scene, scene.parts.map(scene.held).reverse(), x, y);
  return found.kind === 'empty' ? undefined : found;
};

/** The selection after a press on a note: plain keeps it where the note is in it, adding takes the note in or out. */
const selectionAfterPress = ({ selection }: Scene, { partId, note }: PartNote, adding: boolean): Selection => {
  const own = selectionOf(partId, [note.id]);
  if (adding) return toggledIn(selection, own);
  return isSelected(selection, partId, note.id) ? selection : own;
};

/** The upper line of the ruler, where signs stand, in pixels from its top. */
const SIGNS_LINE = 24;
/** About how wide a letter of a marker is, and what stands around them, in pixels. */
const LETTER = 7;
const AROUND = 3;

/** The sign under the pointer, in the ruler: a marker, a meter, a key, a tempo. */
export const signUnder = ({ view, head, arrangement }: Scene, x: number, y: number): RulerSign | undefined => {
  if (y > SIGNS_LINE - head) return undefined;
  const labels = signLabels(view, { ...signsOfRuler(arrangement), fold: null }, (_, text) => LETTER * text.length);
  return labels.find((label) => x >= label.x - AROUND && x <= label.x + label.width + AROUND)?.sign;
};

const soundOf = ({ partId, note }: PartNote): NonNullable<Outcome['sound']> => ({
  partId,
  pitch: note.pitch,
  velocity: note.velocity,
});

const pressed = (drag: Drag, x: number, y: number, draft = NO_DRAFT): Outcome => ({
  state: { kind: 'pressed', drag, x, y, moved: false },
  draft,
});

const press = (scene: Scene, x: number, y: number, adding: boolean): Outcome => {
  const tick = tickOfX(scene.view, x);
  if (isOnCrease(scene, x, y)) return pressed({ kind: 'crease' }, x, y);
  const sign = signUnder(scene, x, y);
  if (sign) return pressed({ kind: 'sign', sign }, x, y);
  if (y < 0) return pressed({ kind: 'ruler', startTick: snapped(scene, tick) }, x, y);
  const pitch = pitchOfY(scene.view, scene.rows, y) ?? 60;
  const readOnly = tick >= scene.creaseTick;
  const { frontPartId } = scene;
  if (scene.drawing && !readOnly && frontPartId !== null) {
    const drag: Drag = { kind: 'draw', partId: frontPartId, place: snapped(scene, tick - scene.unit / 2), pitch };
    const draft = noteToDraw(scene, x, y);
    const { velocity } = scene.drawn;
    return { ...pressed(drag, x, y, draft), sound: { partId: frontPartId, pitch, velocity } };
  }
  const found = targetUnder(scene, x, y);
  if (found.kind === 'empty') return pressed({ kind: 'box', adding }, x, y);
  if (found.kind === 'seam') {
    return pressed(readOnly ? { kind: 'read' } : { kind: 'seam', shared: found.shared }, x, y);
  }
  const { partId, note } = found;
  const selection = selectionAfterPress(scene, found, adding);
  const held = isSelected(selection, partId, note.id);
  const drag: Drag =
    readOnly || !held
      ? { kind: 'read' }
      : found.kind === 'edge'
        ? { kind: 'trim', edge: found.edge, partId, note }
        : { kind: 'move', pitch, adding, partId, note };
  return { ...pressed(drag, x, y), selection, sound: soundOf(found) };
};

const dragged = (
  scene: Scene,
  state: Extract<PointerState, { kind: 'pressed' }>,
  { x, y, wishes }: { readonly x: number; readonly y: number; readonly wishes: Wishes },
): Outcome => {
  const moved = state.moved || Math.hypot(x - state.x, y - state.y) > CLICK_REACH;
  const next = { ...state, moved };
  const { drag } = state;
  if (!moved) return { state: next, draft: drag.kind === 'draw' ? noteToDraw(scene, state.x, state.y) : NO_DRAFT };
  const tick = tickOfX(scene.view, x);
  if (drag.kind === 'crease') {
    return { state: next, draft: NO_DRAFT, creaseTick: Math.max(0, Math.min(scene.endTick, Math.round(tick))) };
  }
  if (drag.kind === 'ruler') {
    const at = snapped(scene, tick);
    const loop = { start: Math.min(at, drag.startTick), end: Math.max(at, drag.startTick) };
    return { state: next, draft: NO_DRAFT, ...(at === drag.startTick ? {} : { loop }) };
  }
  return { state: next, draft: draftOf(scene, drag, state, { x, y }, wishes) };
};

/** Notes of the parts in reach that a box touches. */
const boxed = (scene: Scene, a: { x: number; y: number }, b: { x: number; y: number }): Selection => {
  const { view, rows } = scene;
  const [top, bottom] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
  const box = {
    start: tickOfX(view, Math.min(a.x, b.x)),
    end: tickOfX(view, Math.max(a.x, b.x)),
    highest: pitchOfY(view, rows, Math.max(-view.top, top)) ?? 127,
    lowest: pitchOfY(view, rows, bottom) ?? rows.pitches[rows.pitches.length - 1] ?? 0,
  };
  let found: Selection = NOTHING;
  for (const part of inReach(scene)) {
    const index = indexAt(part.played, part.written, box.start, scene.creaseTick);
    const head = headWidth(view) * view.ticksPerPixel;
    const touched = part.hits ? startsInBox(index, { ...box, start: box.start - head }) : notesInBox(index, box);
    const ids = touched.map((note) => note.id);
    if (ids.length > 0) found = toggledIn(found, selectionOf(part.partId, ids));
  }
  return found;
};

/** A click on empty ground: in reach of the front part a note of another brings that part forward; else nothing stays selected. */
const clickOnEmpty = (scene: Scene, x: number, y: number, adding: boolean): Outcome => {
  const found = scene.reach === 'front' ? noteUnder(scene, x, y) : undefined;
  if (found) {
    const front = { ...RESTING, front: found.partId };
    // A locked part comes forward to be seen; its notes are not picked.
    if (!scene.open.has(found.partId)) return front;
    const own = selectionOf(found.partId, [found.note.id]);
    return { ...front, selection: adding ? toggledIn(scene.selection, own) : own, sound: soundOf(found) };
  }
  return adding ? RESTING : { ...RESTING, selection: NOTHING };
};

const released = (
  scene: Scene,
  state: Extract<PointerState, { kind: 'pressed' }>,
  { x, y, wishes }: { readonly x: number; readonly y: number; readonly wishes: Wishes },
): Outcome => {
  const { drag } = state;
  if (!state.moved && drag.kind !== 'draw') {
    if (drag.kind === 'ruler') return { ...RESTING, seek: drag.startTick };
    if (drag.kind === 'sign') return { ...RESTING, seek: tickOfSign(scene.arrangement, drag.sign) };
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
  const { edit, selection } = state.moved
    ? draftOf(scene, drag, state, { x, y }, wishes)
    : noteToDraw(scene, state.x, state.y);
  if (!edit) return RESTING;
  if (drag.kind === 'draw') {
    const made = edit.changes.flatMap((change) => (change.kind === 'notes' ? change.added : []));
    return {
      ...RESTING,
      edit,
      selection: selectionOf(
        drag.partId,
        made.map((note) => note.id),
      ),
    };
  }
  const change = edit.changes.find((candidate) => candidate.kind === 'notes' && candidate.changed.length > 0);
  const after =
    drag.kind === 'move' &&
    change?.kind === 'notes' &&
    change.changed.find((pair) => pair.after.id === drag.note.id)?.after;
  const part = drag.kind === 'move' ? partById(scene.arrangement, drag.partId) : undefined;
  const sounds = after && part && (after.pitch !== drag.note.pitch || after.velocity !== drag.note.velocity);
  return {
    ...RESTING,
    edit,
    ...(selection ? { selection } : {}),
    ...(sounds ? { sound: { partId: part.id, pitch: after.pitch, velocity: after.velocity } } : {}),
  };
};

/** A press for the menu: what it lies on becomes the selection, so that the menu is about it. */
const menu = (scene: Scene, x: number, y: number): Outcome => {
  const found = y < 0 ? undefined : noteUnder(scene, x, y);
  if (!found || !scene.open.has(found.partId) || isSelected(scene.selection, found.partId, found.note.id)) {
    return RESTING;
  }
  const own = selectionOf(found.partId, [found.note.id]);
  return scene.reach === 'all' ? { ...RESTING, selection: own } : { ...RESTING, front: found.partId, selection: own };
};

/** What comes of an event. */
export const afterPointer = (state: PointerState, input: PointerInput, scene: Scene): Outcome => {
  switch (input.type) {
    case 'press':
      return press(scene, input.x, input.y, input.adding);
    case 'move':
      return state.kind === 'pressed' ? dragged(scene, state, input) : RESTING;
    case 'release':
      return state.kind === 'pressed' ? released(scene, state, input) : RESTING;
    case 'hover':
      return { state, draft: scene.drawing ? noteToDraw(scene, input.x, input.y) : NO_DRAFT };
    case 'menu':
      return menu(scene, input.x, input.y);
    case 'cancel':
      return RESTING;
    default:
      return input satisfies never;
  }
};
