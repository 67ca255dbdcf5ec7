/** What goes on beside the screens while an arrangement is open. */
import { useEffect, useLayoutEffect, useRef } from 'react';
import { useStore } from 'react-redux';
import { counted } from '../../ui/words.js';
import type { CommandContext } from '../actions/commands/command.js';
import { firstLook } from '../actions/looking.js';
import { lookAsLeft, rememberAsLeft, restoreAsLeft } from '../session/asLeft.js';
import { useDesk } from '../session/desk.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectFrontPart } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';

/** How long after a change it is remembered how the Desk is left, in milliseconds. */
const REMEMBERED_AFTER = 500;
/** The roll has its size so long after it was drawn, in milliseconds. */
const SIZED_AFTER = 60;

/** Names the page; who cannot see hears what was opened. */
export const useTitle = ({ dispatch, getState }: CommandContext): void => {
  const title = useAppSelector(({ piece }) => piece.arrangement?.title ?? '');
  useEffect(() => {
    document.title = `${title} · Crisp Fold`;
  }, [title]);
  useEffect(() => {
    const state = getState();
    const { arrangement } = state.piece;
    if (!arrangement) return;
    const front = selectFrontPart(state);
    const parts = counted(arrangement.parts.length, 'part');
    dispatch(said(`${arrangement.title}, ${parts}${front ? `, ${front.name} in front` : ''}.`));
  }, [dispatch, getState]);
};

/**
 * Begins as the arrangement was left, or with a first look; later the view is the person's own. How it is left is found
 * again: remembered some moments after each change, and when the page goes away.
 */
export const useAsLeft = (context: CommandContext): void => {
  const store = useStore<RootState>();
  const { saving } = useDesk();
  const fitted = useRef(false);
  const width = useAppSelector((state) => state.roll.width);
  const view = useRef<ReturnType<ReturnType<typeof restoreAsLeft>>>(null);
  // Before it is seen: what a person chooses from then on stays.
  useLayoutEffect(() => {
    view.current = context.dispatch(restoreAsLeft());
  }, [context.dispatch]);
  useEffect(() => {
    if (fitted.current || width <= 100) return undefined;
    const timer = setTimeout(() => {
      fitted.current = true;
      if (view.current) context.dispatch(lookAsLeft(view.current));
      else firstLook(context);
    }, SIZED_AFTER);
    return () => clearTimeout(timer);
  }, [width, context]);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const remember = () => {
      if (fitted.current && !saving.windows?.follows) rememberAsLeft(store.getState());
    };
    const unsubscribe = store.subscribe(() => {
      clearTimeout(timer);
      timer = setTimeout(remember, REMEMBERED_AFTER);
    });
    addEventListener('pagehide', remember);
    return () => {
      unsubscribe();
      clearTimeout(timer);
      removeEventListener('pagehide', remember);
      remember();
    };
  }, [store, saving]);
};

/** Tells other windows on the arrangement what is looked at and played here. */
export const useOtherWindows = (): void => {
  const store = useStore<RootState>();
  const { saving, player } = useDesk();
  useEffect(() => {
    const unsubscribe = store.subscribe(() => saving.windows?.looked());
    const leave = player.state.subscribe(() => saving.windows?.played(player.state.get()));
    return () => {
      unsubscribe();
      leave();
    };
  }, [store, saving, player]);
};
