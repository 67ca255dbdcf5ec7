/** Pointer, wheel and touch on the roll: reads what the hand does and turns it into changes. */
import { drawNote, moveNotes, moveSharedEdge, type Part, trimNotes } from '@crispfold/core';
import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import type { AppDispatch, RootState } from '../../../app/store.js';
import { deskActions, SNAP_VALUES } from '../deskSlice.js';
import { selectMeterMap } from '../maps.js';
import { commit } from '../saving.js';
import { selectFrontPart } from '../selectors.js';
import { hint } from '../speak.js';
import { player } from '../transport/player.js';
import { gridUnit, indexAt, selectionAfter, snapDistance, snapTick, type Target, targetAt } from './gestures.js';
import type { RollNote, RollPart } from './layers.js';
import { notesInBox } from './noteIndex.js';
import { NAMES_WIDTH, RULER_HEIGHT } from './paintGround.js';
import { rollActions, selectEndTick, selectRows, selectView } from './rollSlice.js';
import { pitchOfY, tickOfX, withinMusic, xOfTick, zoomPitch, zoomTime } from './rollView.js';

/** What is shown while a drag lasts. */
export interface Draft {
  /** Notes of the front part as they would become. */
  readonly notes?: ReadonlyMap<number, RollNote>;
  /** A note being drawn. */
  readonly drawn?: RollNote;
  /** The selecting box, in pixels of the roll. */
  readonly box?: { readonly x1: number; readonly y1: number; readonly x2: number; readonly y2: number };
}

type Drag =
  | { readonly kind: 'crease' }
  | { readonly kind: 'ruler'; readonly startTick: number }
  | { readonly kind: 'box'; readonly x: number; readonly y: number; readonly adding: boolean }
  | {
      readonly kind: 'move';
      readonly note: RollNote;
      readonly x: number;
      readonly pitch: number;
      readonly ids: ReadonlySet<number>;
    }
  | {
      readonly kind: 'trim';
      readonly note: RollNote;
      readonly edge: 'start' | 'end';
      readonly ids: ReadonlySet<number>;
    }
  | { readonly kind: 'seam'; readonly first: RollNote; readonly second: RollNote }
  | { readonly kind: 'draw'; readonly onset: number; readonly pitch: number }
  | { readonly kind: 'read' };

/** Pixels about the crease within which it is grabbed. */
const CREASE_REACH = 5;
/** Size of its folded corner, in the ruler. */
export const FOLD_SIZE = 22;
/** A press that moves less than this is a click. */
const CLICK_REACH = 3;

const HINTS: { readonly [kind in Target['kind']]: string } = {
  body: 'Drag to move. Click to select, with Shift to add or take away.',
  edge: 'Drag to trim this edge.',
  seam: 'Drag to move the edge that these two notes share.',
  empty: 'Drag to select. Click a note of another part to bring that part to the front.',
};
const CURSORS: { readonly [kind in Target['kind']]: string } = {
  body: 'grab',
  edge: 'ew-resize',
  seam: 'col-resize',
  empty: 'default',
};
const READ_ONLY_HINT =
  'This side of the crease shows Written, which the plan makes. Move the crease to edit Played here.';

/** Wires the roll's element; answers the draft to draw and the pointer handlers. */
export const useRollPointer = (element: RefObject<HTMLDivElement | null>, rollParts: readonly RollPart[]) => {
  const store = useStore<RootState>();
  const dispatch = store.dispatch as AppDispatch;
  const [draft, setDraft] = useState<Draft>({});
  const drag = useRef<Drag | null>(null);
  const origin = useRef({ x: 0, y: 0, moved: false });
  const touches = useRef(new Map<number, { x: number; y: number }>());
  const parts = useRef(rollParts);
  parts.current = rollParts;

  const place = (event: { clientX: number; clientY: number }) => {
    const box = (element.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - box.left - NAMES_WIDTH, y: event.clientY - box.top - RULER_HEIGHT };
  };
  const front = (): { part: Part; roll: RollPart } | undefined => {
    const part = selectFrontPart(store.getState());
    const roll = parts.current.find((candidate) => candidate.partId === part?.id);
    return part && roll ? { part, roll } : undefined;
  };
  const crease = () => store.getState().desk.creaseTick ?? Number.POSITIVE_INFINITY;
  const unit = () => {
    const { desk, roll } = store.getState();
    return gridUnit(
      desk.snapOn,
      SNAP_VALUES[desk.snapIndex] as number,
      desk.arrangement?.ppq ?? 480,
      roll.ticksPerPixel,
    );
  };
  const snapped = (tick: number) =>
    Math.max(0, snapTick(tick, unit(), selectMeterMap(store.getState()).barAt(tick).start));
  const target = (x: number, y: number): Target => {
    const own = front();
    const state = store.getState();
    const view = selectView(state);
    if (!own) return { kind: 'empty' };
    return targetAt(
      indexAt(own.roll.played, own.roll.written, tickOfX(view, x), crease()),
      view,
      selectRows(state),
      x,
      y,
    );
  };
  const onCrease = (x: number, y: number): boolean => {
    const view = selectView(store.getState());
    const at = Math.max(0, Math.min(view.width, xOfTick(view, crease())));
    if (y < 0) return x >= at - FOLD_SIZE && x <= at + 4;
    return Math.abs(x - at) <= CREASE_REACH && Number.isFinite(crease());
  };
  const hear = (pitch: number, velocity: number) => {
    const own = front();
    if (own && store.getState().desk.hearEdits) void player.sound(own.part, pitch, velocity);
  };

  const beginOnNotes = (found: Target, x: number, pitch: number, adding: boolean): Drag => {
    const { selection } = store.getState().desk;
    if (found.kind === 'seam') return { kind: 'seam', first: found.first, second: found.second };
    if (found.kind === 'empty') return { kind: 'read' };
    const { note } = found;
    let ids = selection;
    if (adding) ids = selectionAfter(selection, [note.id], true);
    else if (!selection.includes(note.id)) ids = [note.id];
    dispatch(deskActions.selected(ids));
    hear(note.pitch, note.velocity);
    if (found.kind === 'edge')
      return { kind: 'trim', note, edge: found.edge, ids: new Set(ids.includes(note.id) ? ids : [note.id]) };
    return ids.includes(note.id) ? { kind: 'move', note, x, pitch, ids: new Set(ids) } : { kind: 'read' };
  };

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0) return;
    const { x, y } = place(event);
    element.current?.setPointerCapture(event.pointerId);
    element.current?.focus({ preventScroll: true });
    touches.current.set(event.pointerId, { x, y });
    if (touches.current.size > 1) {
      drag.current = null;
      setDraft({});
      return;
    }
    origin.current = { x, y, moved: false };
    const state = store.getState();
    const view = selectView(state);
    const tick = tickOfX(view, x);
    const adding = event.shiftKey || event.ctrlKey || event.metaKey;
    if (onCrease(x, y)) {
      drag.current = { kind: 'crease' };
      return;
    }
    if (y < 0) {
      drag.current = { kind: 'ruler', startTick: snapped(tick) };
      return;
    }
    const pitch = pitchOfY(view, selectRows(state), y) ?? 60;
    const readOnly = tick >= crease();
    if (state.desk.drawing && !readOnly) {
      drag.current = { kind: 'draw', onset: snapped(tick - unit() / 2), pitch };
      hear(pitch, 80);
      return;
    }
    const found = target(x, y);
    if (found.kind === 'empty') {
      drag.current = { kind: 'box', x, y, adding };
      return;
    }
    const begun = beginOnNotes(found, x, pitch, adding);
    drag.current = readOnly ? { kind: 'read' } : begun;
  };

  const shownAs = (note: RollNote, change: Partial<RollNote>): [number, RollNote] => [note.id, { ...note, ...change }];
  const playedNotes = (ids: ReadonlySet<number>): RollNote[] =>
    (front()?.roll.played.notes ?? []).filter((note) => ids.has(note.id));

  const movedBy = (current: Extract<Drag, { kind: 'move' }>, x: number, y: number) => {
    const state = store.getState();
    const view = selectView(state);
    const distance = (x - current.x) * view.ticksPerPixel;
    const pitch = pitchOfY(view, selectRows(state), y) ?? current.pitch;
    return { byTicks: snapDistance(distance, unit()), bySemitones: pitch - current.pitch };
  };
  const trimmedBy = (current: Extract<Drag, { kind: 'trim' }>, x: number): number => {
    const edge = current.edge === 'start' ? current.note.onset : current.note.onset + current.note.duration;
    return snapped(tickOfX(selectView(store.getState()), x)) - edge;
  };
  const drawnAs = (current: Extract<Drag, { kind: 'draw' }>, x: number): RollNote => {
    const view = selectView(store.getState());
    const shortest = Math.max(1, unit() || 10 * view.ticksPerPixel);
    const end = snapped(tickOfX(view, x));
    return {
      id: -1,
      pitch: current.pitch,
      onset: current.onset,
      duration: Math.max(shortest, end - current.onset),
      velocity: 80,
      muted: false,
    };
  };

  const showDrag = (current: Drag, x: number, y: number) => {
    const view = selectView(store.getState());
    switch (current.kind) {
      case 'crease': {
        const end = selectEndTick(store.getState());
        dispatch(deskActions.creaseMoved(Math.max(0, Math.min(end, Math.round(tickOfX(view, x))))));
        return;
      }
      case 'ruler': {
        const at = snapped(tickOfX(view, x));
        if (at !== current.startTick)
          dispatch(
            deskActions.loopSet({ start: Math.min(at, current.startTick), end: Math.max(at, current.startTick) }),
          );
        return;
      }
      case 'box':
        setDraft({ box: { x1: current.x, y1: current.y, x2: x, y2: y } });
        return;
      case 'move': {
        const { byTicks, bySemitones } = movedBy(current, x, y);
        setDraft({
          notes: new Map(
            playedNotes(current.ids).map((note) =>
              shownAs(note, { onset: Math.max(0, note.onset + byTicks), pitch: note.pitch + bySemitones }),
            ),
          ),
        });
        return;
      }
      case 'trim': {
        const by = trimmedBy(current, x);
        setDraft({
          notes: new Map(
            playedNotes(current.ids).map((note) =>
              current.edge === 'end'
                ? shownAs(note, { duration: Math.max(1, note.duration + by) })
                : shownAs(note, {
                    onset: note.onset + Math.min(by, note.duration - 1),
                    duration: Math.max(1, note.duration - by),
                  }),
            ),
          ),
        });
        return;
      }
      case 'seam': {
        const by = snapped(tickOfX(view, x)) - current.second.onset;
        setDraft({
          notes: new Map([
            shownAs(current.first, { duration: Math.max(1, current.first.duration + by) }),
            shownAs(current.second, {
              onset: current.second.onset + by,
              duration: Math.max(1, current.second.duration - by),
            }),
          ]),
        });
        return;
      }
      case 'draw':
        setDraft({ drawn: drawnAs(current, x) });
        return;
      case 'read':
        return;
      default:
        current satisfies never;
    }
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
    if (old.x > 40) view = zoomTime(view, fresh.x / old.x, middle.x, selectEndTick(state));
    if (old.y > 40) view = zoomPitch(view, fresh.y / old.y, middle.y);
    view = {
      ...view,
      left: view.left - ((now.x - before.x) / 2) * view.ticksPerPixel,
      top: view.top - (now.y - before.y) / 2,
    };
    dispatch(rollActions.viewSet(withinMusic(view, selectRows(state), selectEndTick(state))));
  };

  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    if (touches.current.size > 1) {
      pinch(event);
      return;
    }
    const { x, y } = place(event);
    const current = drag.current;
    if (!current) {
      showHint(x, y);
      return;
    }
    if (Math.hypot(x - origin.current.x, y - origin.current.y) > CLICK_REACH) origin.current.moved = true;
    if (origin.current.moved) showDrag(current, x, y);
  };

  const showHint = (x: number, y: number) => {
    const roll = element.current as HTMLDivElement;
    const state = store.getState();
    const say = (words: string, cursor: string) => {
      hint.set(words);
      roll.style.cursor = cursor;
    };
    if (onCrease(x, y))
      return say('Drag the crease: Played to its left, Written to its right. Double-click sends it home.', 'ew-resize');
    if (y < 0) return say('Click to put the playhead here. Drag to set a loop.', 'pointer');
    if (tickOfX(selectView(state), x) >= crease()) return say(READ_ONLY_HINT, 'default');
    if (state.desk.drawing) return say('Drag to draw a note. The draw key goes back to selecting.', 'crosshair');
    const { kind } = target(x, y);
    say(HINTS[kind], CURSORS[kind]);
  };

  const finish = (current: Drag, x: number, y: number) => {
    const state = store.getState();
    const { arrangement, selection } = state.desk;
    const own = front();
    if (!arrangement || !own) return;
    const view = selectView(state);
    switch (current.kind) {
      case 'move': {
        const { byTicks, bySemitones } = movedBy(current, x, y);
        if (bySemitones !== 0) hear(current.note.pitch + bySemitones, current.note.velocity);
        dispatch(commit(moveNotes(arrangement, own.part.id, current.ids, byTicks, bySemitones)));
        return;
      }
      case 'trim':
        dispatch(commit(trimNotes(arrangement, own.part.id, current.ids, current.edge, trimmedBy(current, x))));
        return;
      case 'seam': {
        const by = snapped(tickOfX(view, x)) - current.second.onset;
        dispatch(commit(moveSharedEdge(arrangement, own.part.id, current.first.id, current.second.id, by)));
        return;
      }
      case 'draw': {
        const drawn = drawnAs(current, x);
        dispatch(commit(drawNote(arrangement, own.part.id, drawn)));
        dispatch(deskActions.selected([arrangement.nextNoteId]));
        return;
      }
      case 'box': {
        const rows = selectRows(state);
        const [top, bottom] = [Math.min(current.y, y), Math.max(current.y, y)];
        const box = {
          start: tickOfX(view, Math.min(current.x, x)),
          end: tickOfX(view, Math.max(current.x, x)),
          highest: pitchOfY(view, rows, Math.max(-view.top, top)) ?? 127,
          lowest: pitchOfY(view, rows, bottom) ?? rows.pitches[rows.pitches.length - 1] ?? 0,
        };
        const index = indexAt(own.roll.played, own.roll.written, box.start, crease());
        const found = notesInBox(index, box).map((note) => note.id);
        dispatch(deskActions.selected(selectionAfter(selection, found, current.adding)));
        return;
      }
      case 'crease':
      case 'ruler':
      case 'read':
        return;
      default:
        current satisfies never;
    }
  };

  /** A click on empty ground: a note of a part behind brings that part forward; else nothing stays selected. */
  const clickOnEmpty = (current: Extract<Drag, { kind: 'box' }>) => {
    const state = store.getState();
    const view = selectView(state);
    const frontId = state.desk.frontPartId;
    const tick = tickOfX(view, current.x);
    for (const roll of [...parts.current].reverse()) {
      if (roll.partId === frontId) continue;
      const found = targetAt(
        indexAt(roll.played, roll.written, tick, crease()),
        view,
        selectRows(state),
        current.x,
        current.y,
      );
      if (found.kind === 'empty') continue;
      dispatch(deskActions.partBroughtForward(roll.partId));
      dispatch(deskActions.selected([found.kind === 'seam' ? found.first.id : found.note.id]));
      return;
    }
    if (!current.adding) dispatch(deskActions.selected([]));
  };

  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    touches.current.delete(event.pointerId);
    const current = drag.current;
    drag.current = null;
    setDraft({});
    if (!current) return;
    const { x, y } = place(event);
    if (origin.current.moved || current.kind === 'draw') finish(current, x, y);
    else if (current.kind === 'ruler') void player.seek(current.startTick);
    else if (current.kind === 'box') clickOnEmpty(current);
    else if (current.kind === 'move' && !event.shiftKey && !event.ctrlKey && !event.metaKey)
      dispatch(deskActions.selected([current.note.id]));
  };

  const onPointerCancel = (event: PointerEvent<HTMLDivElement>) => {
    touches.current.delete(event.pointerId);
    drag.current = null;
    setDraft({});
  };

  const onDoubleClick = (event: { clientX: number; clientY: number }) => {
    const { x, y } = place(event);
    if (onCrease(x, y)) dispatch(deskActions.creaseMoved(null));
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
      const y = event.clientY - box.top - RULER_HEIGHT;
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

  return { draft, handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel, onDoubleClick } };
};
