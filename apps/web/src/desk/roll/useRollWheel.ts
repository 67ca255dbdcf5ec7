/** The wheel over the roll. */

import { type RefObject, useEffect } from 'react';
import { useStore } from 'react-redux';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectEndTick, selectHead, selectRows, selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import { withinMusic } from '../state/rollView.js';
import type { RootState } from '../state/root.js';
import { wheeled } from './viewByHand.js';

/** Scrolls and zooms; React listens to wheels passively, which would zoom the whole page. */
export const useRollWheel = (element: RefObject<HTMLDivElement | null>): void => {
  const store = useStore<RootState>();
  useEffect(() => {
    const roll = element.current;
    if (!roll) return undefined;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const state = store.getState();
      const box = roll.getBoundingClientRect();
      const at = { x: event.clientX - box.left - NAMES_WIDTH, y: event.clientY - box.top - selectHead(state) };
      const end = selectEndTick(state);
      const view = wheeled(selectView(state), event, at, end);
      store.dispatch(rollActions.viewSet(withinMusic(view, selectRows(state), end)));
    };
    roll.addEventListener('wheel', onWheel, { passive: false });
    return () => roll.removeEventListener('wheel', onWheel);
  }, [element, store]);
};
