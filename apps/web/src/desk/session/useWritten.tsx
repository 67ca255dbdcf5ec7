/** The Written layers and how they stand, for the screens inside the Desk. */

import { createContext, type ReactNode, useCallback, useContext, useEffect, useState } from 'react';
import { useStore } from 'react-redux';
import { askWorker, beginSession, tellWorker } from '../../engine/engine.js';
import type { Layers } from '../../engine/news.js';
import type { Revision } from '../../engine/protocol.js';
import { useValue, type ValueStore } from '../../ui/valueStore.js';
import { allFindings, checksRun } from '../state/findings.js';

import type { RootState } from '../state/root.js';
import { selectShownParts } from '../state/selectors.js';
import { DeskLink, type WorkState } from './deskLink.js';

const LinkContext = createContext<DeskLink | null>(null);

const useLink = (): DeskLink => {
  const link = useContext(LinkContext);
  if (!link) throw new Error('Only inside an open Desk.');
  return link;
};

export const useLayers = (): Layers => useValue(useLink().layers);
export const useWorkState = (): WorkState => useValue(useLink().work);
/** The revision that the worker knows, to be listened to: it changes before the screen draws what changed. */
export const useRevisions = (): Pick<ValueStore<Revision>, 'get' | 'subscribe'> => useLink().revision;
/** Tells the line of a page that is being made: the layers of the same change are shown with it. */
export const usePageComing = (): ((page: Promise<unknown>) => void) => {
  const link = useLink();
  return useCallback((page) => link.comesWith(page), [link]);
};
/** The revision that the worker knows. */
export const useRevision = (): Revision => useValue(useRevisions());
/** True once every part's plan has run since the arrangement was opened. */
export const useComplete = (): boolean => useValue(useLink().complete);

export const WrittenProvider = ({ children }: { readonly children: ReactNode }) => {
  const store = useStore<RootState>();
  const [link] = useState(
    () =>
      new DeskLink({
        arrangement: () => store.getState().desk.arrangement,
        // The front part is the last of those shown, so that it is drawn on top.
        first: () =>
          selectShownParts(store.getState())
            .map((part) => part.id)
            .reverse(),
        begin: beginSession,
        tell: tellWorker,
        ask: askWorker,
        onFindings: (findings) => {
          allFindings.set(findings);
          checksRun.set(true);
        },
      }),
  );
  useEffect(() => {
    checksRun.set(false);
    link.start();
    // The worker is told as the change is made, before the screen draws it.
    const leave = store.subscribe(() => link.changed());
    return () => {
      leave();
      link.stop();
    };
  }, [link, store]);
  return <LinkContext value={link}>{children}</LinkContext>;
};
