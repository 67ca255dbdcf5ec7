/** Pointer, wheel and touch on the roll: reads events and carries out what the pointer machine makes of them. */

import { type Edit, type Note, type PartId, selectionSize, unionOf } from '@crispfold/core';
import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import { commitLane } from '../actions/commitLane.js';
import { commitNotes } from '../actions/commitNotes.js';
import type { AppDispatch } from '../session/desk.js';
import { useDesk } from '../session/desk.js';
import { editingActions, gridFraction } from '../state/editingSlice.js';
import { layoutActions } from '../state/layoutSlice.js';
import { lookingActions } from '../state/lookingSlice.js';
import { selectMeterMap } from '../state/maps.js';
import { noteSpoken } from '../state/noteSpoken.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { playbackActions } from '../state/playbackSlice.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectEndTick, selectHead, selectRows, selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import { type RollView, tickOfX, withinMusic, zoomPitch, zoomTime } from '../state/rollView.js';
import type { RootState } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';
import { selectArrangement, selectOpenIds, selectWithin } from '../state/selectors.js';
import { hinted } from '../state/speechSlice.js';
import {
  type Draft,
  type Drag,
  NO_DRAFT,
  NO_WISHES,
  noteToDraw,
  type Scene,
  tickOfSign,
  type Wishes,
} from './drags.js';
import { gridUnit, type PartNote, type Pressing, type Target } from './gestures.js';
import { heldPart } from './heldPart.js';
import type { RollPart } from './layers.js';

import {
  afterPointer,
  isOnCrease,
  type Outcome,
  type PointerInput,
  restingPointer,
  signUnder,
  targetUnder,
} from './pointer.js';

/** What a press on each kind of target offers. */
const offered = (target: Target, reach: Scene['reach']): string => {
  switch (target.kind) {
    case 'body':
      return 'Drag to move, with Alt for loudness. Click to select, with Shift to add or take away.';
    case 'edge':
      return 'Drag to trim this edge.';
    case 'seam': {
      const notes = selectionSize(unionOf(target.shared.ends, target.shared.starts));
      return `Drag to move the edge that these ${notes} notes share. Further in, a note’s own edge is taken.`;
    }
    case 'empty':
      return reach === 'all'
        ? 'Drag to select in all shown parts.'
        : 'Drag to select. Click a note of another part to bring that part to the front.';
    default:
      return target satisfies never;
  }
};

/** Keys that a drag listens to while it lasts, said at the foot. */
const DRAG_WORDS: { readonly [kind in Drag['kind']]?: string } = {
  move: 'T time only · P pitch only · C a copy · V loudness, then E all the same',
  trim: 'E all to one length',
  draw: 'R repeats at the grid’s value · G finer · Shift G coarser',
};

/** The wish that a key turns on or off during a drag. */
const wished = (wishes: Wishes, key: string): Wishes | null => {
  switch (key) {
    case 't':
      return { ...wishes, along: wishes.along === 'time' ? null : 'time' };
    case 'p':
      return { ...wishes, along: wishes.along === 'pitch' ? null : 'pitch' };
    case 'c':
      return { ...wishes, copy: !wishes.copy };
    case 'v':
      return { ...wishes, loudness: !wishes.loudness };
    case 'e':
      return { ...wishes, same: !wishes.same };
    case 'r':
      return { ...wishes, repeats: !wishes.repeats };
    default:
      return null;
  }
};

/** What keys held down ask of a drag, on top of those pressed: Shift for one direction, Ctrl for a copy, Alt for the rest. */
const withHeld = (
  wishes: Wishes,
  drag: Drag,
  way: { readonly x: number; readonly y: number },
  held: { readonly shiftKey: boolean; readonly ctrlKey: boolean; readonly metaKey: boolean; readonly altKey: boolean },
): Wishes => {
  const loudness = wishes.loudness || (held.altKey && drag.kind === 'move');
  const one = Math.abs(way.x) >= Math.abs(way.y) ? 'time' : 'pitch';
  return {
    along: wishes.along ?? (held.shiftKey ? one : null),
    copy: wishes.copy || held.ctrlKey || held.metaKey,
    loudness,
    same: wishes.same || (loudness ? held.shiftKey : held.altKey),
    repeats: wishes.repeats || held.altKey,
  };
};
const CURSORS: { readonly [kind in Target['kind']]: string } = {
  body: 'grab',
  edge: 'ew-resize',
  seam: 'col-resize',
  empty: 'default',
};
const READ_ONLY_HINT =
  'This side of the crease shows Written, which the plan makes. Move the crease to edit Played here.';

/** Fingers nearer than this do not zoom in that direction, in pixels. */
const LEAST_SPREAD = 40;

/** A finger that stays so long opens the menu (milliseconds): a little before the menu itself comes. */
const LONG_PRESS = 600;
/** …unless it moved so far (pixels). */
const STILL = 10;

/** The scene as the state has it. */
const sceneOf = (state: RootState, parts: readonly RollPart[], pressing: Pressing): Scene => {
  const { selecting, looking, editing, roll, partsShown } = state;
  const arrangement = selectArrangement(state);
  const meterMap = selectMeterMap(state);
  const { frontPartId } = partsShown;
  return {
    arrangement,
    view: selectView(state),
    rows: selectRows(state),
    head: selectHead(state),
    parts,
    pressing,
    open: selectOpenIds(state),
    reach: selecting.reach,
    frontPartId: frontPartId !== null && selectOpenIds(state).has(frontPartId) ? frontPartId : null,
    selection: selecting.selection,
    within: selectWithin(state),
    held: (part) => {
      const { forward, forwardNotes } = selecting;
      return forward && forwardNotes ? heldPart(part, forward, forwardNotes.get(part.partId)) : part;
    },
    creaseTick: looking.creaseTick ?? Number.POSITIVE_INFINITY,
    endTick: selectEndTick(state),
    drawing: editing.drawing,
    drawn: {
      ...editing.drawn,
      length: editing.drawn.length === null ? null : editing.drawn.length * 4 * arrangement.ppq,
    },
    snapTo: editing.snapTo,
    lineNear: looking.seeing.pageGrid ? (looking.gridOfPage?.nearest ?? null) : null,
    unit: gridUnit(editing.snapOn, gridFraction(editing.grid), arrangement.ppq, roll.ticksPerPixel),
    barStart: (tick) => meterMap.barAt(tick).start,
  };
};

/** The note that an Edit draws. */
const drawnBy = (edit: Edit | null): Note | undefined => {
  const [change] = edit?.changes ?? [];
  return change?.kind === 'notes' ? change.added[0] : undefined;
};

const playedNote = ({ arrangement }: Scene, { partId, note }: PartNote): Note | undefined =>
  arrangement.parts.find(({ id }) => id === partId)?.notes.find(({ id }) => id === note.id);

/** What a place in the roll offers: words for the foot, and a cursor. */
const offer = (
  scene: Scene,
  x: number,
  y: number,
  words: (partId: PartId, note: Note) => string,
): readonly [words: string, cursor: string] => {
  if (isOnCrease(scene, x, y)) {
    return ['Drag the crease: Played to its left, Written to its right. Double-click sends it home.', 'ew-resize'];
  }
  const sign = signUnder(scene, x, y);
  if (sign) {
    const first = sign.kind !== 'marker' && tickOfSign(scene.arrangement, sign) === 0 && sign.kind !== 'key';
    const what = sign.kind === 'marker' ? sign.marker.text : `the ${sign.kind}`;
    return first
      ? [`The ${sign.kind} that the piece begins in. Double-click to change it.`, 'default']
      : [`Drag ${what} to where it belongs. Double-click to change or remove it.`, 'ew-resize'];
  }
  if (y < 0) return ['Click to put the playhead here. Drag to set a loop.', 'pointer'];
  if (tickOfX(scene.view, x) >= scene.creaseTick) return [READ_ONLY_HINT, 'default'];
  if (scene.frontPartId === null && scene.reach === 'front') {
    return ['The front part is hidden or locked. Show or unlock it to work on it.', 'default'];
  }
  if (scene.drawing) {
    const note = drawnBy(noteToDraw(scene, x, y).edit);
    const would = note && scene.frontPartId !== null ? `Would go there: ${words(scene.frontPartId, note)}. ` : '';
    return [`${would}Click or drag to draw. The draw key goes back to selecting.`, 'crosshair'];
  }
  const target = targetUnder(scene, x, y);
  const under = 'note' in target ? playedNote(scene, target) : undefined;
  const said = under && 'note' in target ? `${words(target.partId, under)}. ` : '';
  return [said + offered(target, scene.reach), CURSORS[target.kind]];
};

/** Keys held during an event. */
const held = ({ shiftKey, ctrlKey, metaKey, altKey }: PointerEvent) => ({ shiftKey, ctrlKey, metaKey, altKey });

/** Wires the roll's element; answers the draft to draw and the pointer handlers. */
export const useRollPointer = (element: RefObject<HTMLDivElement | null>, rollParts: readonly RollPart[]) => {
  const desk = useDesk();
  const { player } = desk;
  const store = useStore<RootState>();
  const dispatch = store.dispatch as AppDispatch;
  const [draft, setDraft] = useState<Draft>(NO_DRAFT);
  const pointer = useRef(restingPointer);
  /** What keys pressed during this drag asked of it, and where the hand was last. */
  const wishes = useRef(NO_WISHES);
  const last = useRef({ x: 0, y: 0, shiftKey: false, ctrlKey: false, metaKey: false, altKey: false });
  const touches = useRef(new Map<number, { x: number; y: number }>());
  const longPress = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const parts = useRef(rollParts);
  parts.current = rollParts;

  const pressing = useRef<Pressing>('point');
  const scene = () => sceneOf(store.getState(), parts.current, pressing.current);
  const place = (event: { clientX: number; clientY: number }) => {
    const box = (element.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - box.left - NAMES_WIDTH, y: event.clientY - box.top - selectHead(store.getState()) };
  };
  const showView = (view: RollView) => {
    const state = store.getState();
    dispatch(rollActions.viewSet(withinMusic(view, selectRows(state), selectEndTick(state))));
  };

  const carryOut = (outcome: Outcome) => {
    pointer.current = outcome.state;
    setDraft((before) => (before !== NO_DRAFT || outcome.draft !== NO_DRAFT ? outcome.draft : before));
    if (outcome.state.kind === 'idle') wishes.current = NO_WISHES;
    if (outcome.front !== undefined) dispatch(partsShownActions.partBroughtForward(outcome.front));
    // A change of tempo moves notes or bars, as was chosen.
    const ofMaps = outcome.edit?.changes.some(({ kind }) => kind === 'arrangementFields');
    if (outcome.edit && ofMaps) dispatch(commitLane(outcome.edit));
    else if (outcome.edit) dispatch(commitNotes(outcome.edit, store.getState().selecting.selection));
    if (outcome.selection) dispatch(selectingActions.selected(outcome.selection));
    if (outcome.creaseTick !== undefined) dispatch(lookingActions.creaseMoved(outcome.creaseTick));
    if (outcome.loop) dispatch(playbackActions.loopSet(outcome.loop));
    if (outcome.seek !== undefined) void player.seek(outcome.seek);
    if (outcome.sound && store.getState().playback.hearEdits) {
      const { partId, pitch, velocity } = outcome.sound;
      const part = selectArrangement(store.getState()).parts.find((candidate) => candidate.id === partId);
      if (part) void player.sound(part, pitch, velocity);
    }
  };
  const wishesNow = (): Wishes => {
    const { current } = pointer;
    if (current.kind !== 'pressed') return NO_WISHES;
    const way = { x: last.current.x - current.x, y: last.current.y - current.y };
    return withHeld(wishes.current, current.drag, way, last.current);
  };
  const handle = (input: PointerInput) => carryOut(afterPointer(pointer.current, input, scene()));

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    pressing.current = event.pointerType === 'touch' ? 'finger' : 'point';
    const { x, y } = place(event);
    if (event.button === 2) {
      handle({ type: 'menu', x, y });
      return;
    }
    if (event.button !== 0) return;
    element.current?.setPointerCapture(event.pointerId);
    element.current?.focus({ preventScroll: true });
    touches.current.set(event.pointerId, { x, y });
    clearTimeout(longPress.current);
    if (touches.current.size > 1) handle({ type: 'cancel' });
    else handle({ type: 'press', x, y, adding: event.shiftKey || store.getState().selecting.adding });
    if (event.pointerType === 'mouse' || touches.current.size > 1) return;
    longPress.current = setTimeout(() => {
      const now = touches.current.get(event.pointerId);
      if (!now || touches.current.size > 1 || Math.hypot(now.x - x, now.y - y) > STILL) return;
      handle({ type: 'cancel' });
      handle({ type: 'menu', x, y });
    }, LONG_PRESS);
  };

  const pinch = (event: PointerEvent<HTMLDivElement>) => {
    const before = touches.current.get(event.pointerId);
    const other = [...touches.current].find(([id]) => id !== event.pointerId)?.[1];
    const now = place(event);
    touches.current.set(event.pointerId, now);
    if (!before || !other) return;
    const state = store.getState();
    const spread = (a: { x: number; y: number }) => ({ x: Math.abs(a.x - other.x), y: Math.abs(a.y - other.y) });
    const [old, fresh] = [spread(before), spread(now)];
    const middle = { x: (now.x + other.x) / 2, y: (now.y + other.y) / 2 };
    let view = selectView(state);
    if (old.x > LEAST_SPREAD) view = zoomTime(view, fresh.x / old.x, middle.x, selectEndTick(state));
    if (old.y > LEAST_SPREAD) view = zoomPitch(view, fresh.y / old.y, middle.y);
    const left = view.left - ((now.x - before.x) / 2) * view.ticksPerPixel;
    showView({ ...view, left, top: view.top - (now.y - before.y) / 2 });
  };

  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    if (touches.current.size > 1) {
      pinch(event);
      return;
    }
    const { x, y } = place(event);
    if (touches.current.has(event.pointerId)) touches.current.set(event.pointerId, { x, y });
    if (pointer.current.kind === 'pressed') {
      last.current = { x, y, ...held(event) };
      handle({ type: 'move', x, y, wishes: wishesNow() });
      const along = store.getState().editing.controllersToo ? 'Controllers go along. ' : '';
      dispatch(hinted(along + (DRAG_WORDS[pointer.current.drag.kind] ?? '')));
      return;
    }
    pressing.current = event.pointerType === 'touch' ? 'finger' : 'point';
    desk.pointerTick.set(Math.max(0, Math.round(tickOfX(selectView(store.getState()), x))));
    if (store.getState().editing.drawing) handle({ type: 'hover', x, y });
    const [words, cursor] = offer(scene(), x, y, (partId, note) => {
      const state = store.getState();
      const part = selectArrangement(state).parts.find(({ id }) => id === partId);
      return part ? noteSpoken(state, part, note) : '';
    });
    dispatch(hinted(words));
    (element.current as HTMLDivElement).style.cursor = cursor;
  };

  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    clearTimeout(longPress.current);
    touches.current.delete(event.pointerId);
    last.current = { ...place(event), ...held(event) };
    handle({ type: 'release', ...place(event), wishes: wishesNow() });
  };

  const onPointerLeave = () => {
    if (pointer.current.kind === 'idle') setDraft(NO_DRAFT);
  };

  const onPointerCancel = (event: PointerEvent<HTMLDivElement>) => {
    clearTimeout(longPress.current);
    touches.current.delete(event.pointerId);
    handle({ type: 'cancel' });
  };

  // Keys during a drag are the drag's own: the commands of those keys wait.
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (pointer.current.kind !== 'pressed') return;
      const next = wished(wishes.current, event.key.toLowerCase());
      const grid = event.key === 'g' || event.key === 'G';
      const cancels = event.key === 'Escape';
      if (!next && !grid && !cancels) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (cancels) {
        handle({ type: 'cancel' });
        return;
      }
      if (next) wishes.current = next;
      if (grid) dispatch(editingActions.snapStepped(event.key === 'g' ? 1 : -1));
      handle({ type: 'move', x: last.current.x, y: last.current.y, wishes: wishesNow() });
    };
    addEventListener('keydown', onKey, { capture: true });
    return () => removeEventListener('keydown', onKey, { capture: true });
  });

  const onDoubleClick = (event: { clientX: number; clientY: number }) => {
    const { x, y } = place(event);
    if (isOnCrease(scene(), x, y)) dispatch(lookingActions.creaseMoved(null));
    else if (signUnder(scene(), x, y)) dispatch(layoutActions.toolShown('places'));
  };

  useEffect(() => {
    const roll = element.current;
    if (!roll) return undefined;
    // React listens to wheels passively, which would zoom the whole page.
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const state = store.getState();
      const box = roll.getBoundingClientRect();
      const x = event.clientX - box.left - NAMES_WIDTH;
      const y = event.clientY - box.top - selectHead(state);
      const end = selectEndTick(state);
      let view = selectView(state);
      const lines = event.deltaMode === 1 ? 16 : 1;
      if (event.ctrlKey || event.metaKey) view = zoomTime(view, 1.0025 ** -(event.deltaY * lines), x, end);
      else if (event.altKey) view = zoomPitch(view, 1.0025 ** -(event.deltaY * lines), y);
      else {
        const across = event.shiftKey ? event.deltaY : event.deltaX;
        const down = event.shiftKey ? 0 : event.deltaY;
        view = { ...view, left: view.left + across * lines * view.ticksPerPixel, top: view.top + down * lines };
      }
      dispatch(rollActions.viewSet(withinMusic(view, selectRows(state), end)));
    };
    roll.addEventListener('wheel', onWheel, { passive: false });
    return () => roll.removeEventListener('wheel', onWheel);
  }, [dispatch, element, store]);

  return {
    draft,
    handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel, onPointerLeave, onDoubleClick },
  };
};
