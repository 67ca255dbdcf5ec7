/** The Written layers and how they stand, for the screens inside the Desk. */
import { useCallback, useEffect } from 'react';
import { useStore } from 'react-redux';
import type { Layers } from '../../engine/news.js';
import type { Revision } from '../../engine/protocol.js';
import { useValue, type ValueStore } from '../../ui/valueStore.js';
import { checksActions } from '../state/checksSlice.js';
import type { RootState } from '../state/root.js';
import { useDesk } from './desk.js';
import type { WorkState } from './deskLink.js';

export const useLayers = (): Layers => useValue(useDesk().link.layers);
export const useWorkState = (): WorkState => useValue(useDesk().link.work);
/** The revision that the worker knows, to be listened to: it changes before the screen draws what changed. */
export const useRevisions = (): Pick<ValueStore<Revision>, 'get' | 'subscribe'> => useDesk().link.revision;
/** Tells the line of a page that is being made: the layers of the same change are shown with it. */
export const usePageComing = (): ((page: Promise<unknown>) => void) => {
  const { link } = useDesk();
  return useCallback((page) => link.comesWith(page), [link]);
};
/** The revision that the worker knows. */
export const useRevision = (): Revision => useValue(useRevisions());
/** True once every part's plan has run since the arrangement was opened. */
export const useComplete = (): boolean => useValue(useDesk().link.complete);

/** Keeps the line to the worker open: it is told of each change as it is made, before the screen draws it. */
export const useOpenLine = (): void => {
  const { link } = useDesk();
  const store = useStore<RootState>();
  useEffect(() => {
    store.dispatch(checksActions.checksBegun());
    link.start();
    const leave = store.subscribe(() => link.changed());
    return () => {
      leave();
      link.stop();
    };
  }, [link, store]);
};
