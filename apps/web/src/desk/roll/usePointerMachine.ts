/** The pointer machine at work: what it makes of an input is carried out; keys pressed during a drag are the drag's own. */

import { useEffect, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import { commitLane } from '../actions/commitLane.js';
import { commitNotes } from '../actions/commitNotes.js';
import { type AppDispatch, type Desk, useDesk } from '../session/desk.js';
import { editingActions } from '../state/editingSlice.js';
import { lookingActions } from '../state/lookingSlice.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { playbackActions } from '../state/playbackSlice.js';
import type { RootState } from '../state/root.js';
import { selectingActions } from '../state/selectingSlice.js';
import { selectArrangement } from '../state/selectors.js';
import { type Draft, NO_DRAFT, NO_WISHES, type Scene, type Wishes } from './drags.js';
import { afterPointer, type Outcome, type PointerInput, restingPointer } from './pointer.js';
import type { Place } from './viewByHand.js';
import { type Held, wished, withHeld } from './wishes.js';

/** Carries out what the machine asks for, but for the draft. */
const carriedOut =
  (outcome: Outcome, player: Desk['player']) =>
  (dispatch: AppDispatch, getState: () => RootState): void => {
    if (outcome.front !== undefined) dispatch(partsShownActions.partBroughtForward(outcome.front));
    // A change of tempo moves notes or bars, as was chosen.
    const ofMaps = outcome.edit?.changes.some(({ kind }) => kind === 'arrangementFields');
    if (outcome.edit && ofMaps) dispatch(commitLane(outcome.edit));
    else if (outcome.edit) dispatch(commitNotes(outcome.edit, getState().selecting.selection));
    if (outcome.selection) dispatch(selectingActions.selected(outcome.selection));
    if (outcome.creaseTick !== undefined) dispatch(lookingActions.creaseMoved(outcome.creaseTick));
    if (outcome.loop) dispatch(playbackActions.loopSet(outcome.loop));
    if (outcome.seek !== undefined) void player.seek(outcome.seek);
    if (outcome.sound && getState().playback.hearEdits) {
      const { partId, pitch, velocity } = outcome.sound;
      const part = selectArrangement(getState()).parts.find((candidate) => candidate.id === partId);
      if (part) void player.sound(part, pitch, velocity);
    }
  };

const UNHELD: Held = { shiftKey: false, ctrlKey: false, metaKey: false, altKey: false };

/** What a hand does with the machine; `scene` tells what lies under it now. */
export const usePointerMachine = (scene: () => Scene) => {
  const { player } = useDesk();
  const store = useStore<RootState>();
  const dispatch = store.dispatch as AppDispatch;
  const [draft, setDraft] = useState<Draft>(NO_DRAFT);
  const pointer = useRef(restingPointer);
  /** What keys pressed during this drag asked of it, and where the hand was last. */
  const wishes = useRef(NO_WISHES);
  const last = useRef<Place & Held>({ x: 0, y: 0, ...UNHELD });

  const handle = (input: PointerInput) => {
    const outcome = afterPointer(pointer.current, input, scene());
    pointer.current = outcome.state;
    setDraft((before) => (before !== NO_DRAFT || outcome.draft !== NO_DRAFT ? outcome.draft : before));
    if (outcome.state.kind === 'idle') wishes.current = NO_WISHES;
    dispatch(carriedOut(outcome, player));
  };
  const wishesNow = (): Wishes => {
    const { current } = pointer;
    if (current.kind !== 'pressed') return NO_WISHES;
    const way = { x: last.current.x - current.x, y: last.current.y - current.y };
    return withHeld(wishes.current, current.drag, way, last.current);
  };
  const move = (place: Place & Held) => {
    last.current = place;
    handle({ type: 'move', x: place.x, y: place.y, wishes: wishesNow() });
  };
  const release = (place: Place & Held) => {
    last.current = place;
    handle({ type: 'release', x: place.x, y: place.y, wishes: wishesNow() });
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
      move(last.current);
    };
    addEventListener('keydown', onKey, { capture: true });
    return () => removeEventListener('keydown', onKey, { capture: true });
  });

  return {
    draft,
    /** The drag under way. */
    dragged: () => (pointer.current.kind === 'pressed' ? pointer.current.drag : null),
    handle,
    move,
    release,
    /** The hand is gone: nothing is drawn that it was about to do. */
    gone: () => {
      if (pointer.current.kind === 'idle') setDraft(NO_DRAFT);
    },
  };
};
