/** Pointer, wheel and touch on the roll: reads events and hands them to the pointer machine. */

import { type PointerEvent, type RefObject, useRef } from 'react';
import { useStore } from 'react-redux';
import { type AppDispatch, useDesk } from '../session/desk.js';
import { layoutActions } from '../state/layoutSlice.js';
import { lookingActions } from '../state/lookingSlice.js';
import { noteSpoken } from '../state/noteSpoken.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectEndTick, selectHead, selectRows, selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import { tickOfX, withinMusic } from '../state/rollView.js';
import type { RootState } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import { hinted } from '../state/speechSlice.js';
import type { Pressing } from './gestures.js';
import type { RollPart } from './layers.js';
import { isOnCrease, signUnder } from './pointer.js';
import { sceneOf } from './pointerScene.js';
import { DRAG_WORDS, offer } from './pointerWords.js';
import { usePointerMachine } from './usePointerMachine.js';
import { useRollWheel } from './useRollWheel.js';
import { type Place, pinched } from './viewByHand.js';
import type { Held } from './wishes.js';

/** A finger that stays so long opens the menu (milliseconds): a little before the menu itself comes. */
const LONG_PRESS = 600;
/** …unless it moved so far (pixels). */
const STILL = 10;

/** Keys held during an event. */
const held = ({ shiftKey, ctrlKey, metaKey, altKey }: PointerEvent): Held => ({ shiftKey, ctrlKey, metaKey, altKey });

/** Wires the roll's element; answers the draft to draw and the pointer handlers. */
export const useRollPointer = (element: RefObject<HTMLDivElement | null>, rollParts: readonly RollPart[]) => {
  const desk = useDesk();
  const store = useStore<RootState>();
  const dispatch = store.dispatch as AppDispatch;
  const touches = useRef(new Map<number, Place>());
  const longPress = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const parts = useRef(rollParts);
  parts.current = rollParts;
  const pressing = useRef<Pressing>('point');
  const scene = () => sceneOf(store.getState(), parts.current, pressing.current);
  const machine = usePointerMachine(scene);
  useRollWheel(element);

  const place = (event: { clientX: number; clientY: number }): Place => {
    const box = (element.current as HTMLDivElement).getBoundingClientRect();
    return { x: event.clientX - box.left - NAMES_WIDTH, y: event.clientY - box.top - selectHead(store.getState()) };
  };
  const pressedBy = (event: PointerEvent) => {
    pressing.current = event.pointerType === 'touch' ? 'finger' : 'point';
  };

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    pressedBy(event);
    const { x, y } = place(event);
    if (event.button === 2) {
      machine.handle({ type: 'menu', x, y });
      return;
    }
    if (event.button !== 0) return;
    element.current?.setPointerCapture(event.pointerId);
    element.current?.focus({ preventScroll: true });
    touches.current.set(event.pointerId, { x, y });
    clearTimeout(longPress.current);
    if (touches.current.size > 1) machine.handle({ type: 'cancel' });
    else machine.handle({ type: 'press', x, y, adding: event.shiftKey || store.getState().selecting.adding });
    if (event.pointerType === 'mouse' || touches.current.size > 1) return;
    longPress.current = setTimeout(() => {
      const now = touches.current.get(event.pointerId);
      if (!now || touches.current.size > 1 || Math.hypot(now.x - x, now.y - y) > STILL) return;
      machine.handle({ type: 'cancel' });
      machine.handle({ type: 'menu', x, y });
    }, LONG_PRESS);
  };

  const pinch = (event: PointerEvent<HTMLDivElement>) => {
    const before = touches.current.get(event.pointerId);
    const other = [...touches.current].find(([id]) => id !== event.pointerId)?.[1];
    const now = place(event);
    touches.current.set(event.pointerId, now);
    if (!before || !other) return;
    const state = store.getState();
    const end = selectEndTick(state);
    const view = pinched(selectView(state), { before, now, other }, end);
    dispatch(rollActions.viewSet(withinMusic(view, selectRows(state), end)));
  };

  /** Tells what the place under the hand offers. */
  const hover = ({ x, y }: Place) => {
    const state = store.getState();
    desk.pointerTick.set(Math.max(0, Math.round(tickOfX(selectView(state), x))));
    if (state.editing.drawing) machine.handle({ type: 'hover', x, y });
    const [words, cursor] = offer(scene(), x, y, (partId, note) => {
      const part = selectArrangement(state).parts.find(({ id }) => id === partId);
      return part ? noteSpoken(state, part, note) : '';
    });
    dispatch(hinted(words));
    (element.current as HTMLDivElement).style.cursor = cursor;
  };

  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    if (touches.current.size > 1) {
      pinch(event);
      return;
    }
    const at = place(event);
    if (touches.current.has(event.pointerId)) touches.current.set(event.pointerId, at);
    if (!machine.dragged()) {
      pressedBy(event);
      hover(at);
      return;
    }
    machine.move({ ...at, ...held(event) });
    const drag = machine.dragged();
    const along = store.getState().editing.controllersToo ? 'Controllers go along. ' : '';
    dispatch(hinted(along + ((drag && DRAG_WORDS[drag.kind]) ?? '')));
  };

  const lifted = (event: PointerEvent<HTMLDivElement>) => {
    clearTimeout(longPress.current);
    touches.current.delete(event.pointerId);
  };
  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    lifted(event);
    machine.release({ ...place(event), ...held(event) });
  };
  const onPointerCancel = (event: PointerEvent<HTMLDivElement>) => {
    lifted(event);
    machine.handle({ type: 'cancel' });
  };

  const onDoubleClick = (event: { clientX: number; clientY: number }) => {
    const { x, y } = place(event);
    if (isOnCrease(scene(), x, y)) dispatch(lookingActions.creaseMoved(null));
    else if (signUnder(scene(), x, y)) dispatch(layoutActions.toolShown('places'));
  };

  return {
    draft: machine.draft,
    handlers: {
      onPointerDown,
      onPointerMove,
      onPointerUp,
      onPointerCancel,
      onPointerLeave: machine.gone,
      onDoubleClick,
    },
  };
};
