/** Keeps the Written layers and the findings up to date: tells the worker each change, and takes in what it makes of it. */
import type { Part, PartId } from '@crispfold/core';
import { createContext, type ReactNode, useCallback, useContext, useEffect, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import { type RootState, useAppSelector } from '../../app/store.js';
import { askWorker, beginSession, tellWorker } from '../../engine/engine.js';
import { unpackNotes } from '../../engine/packedNotes.js';
import {
  isSessionOver,
  type PackedLayer,
  type PartNews,
  type Revision,
  type Session,
  type WrittenLayer,
} from '../../engine/protocol.js';
import { allFindings } from './findings/findingList.js';
import { selectArrangement, selectShownParts } from './selectors.js';

/** The Written layers by part, each as of the newest answer that covers it. */
export type Layers = ReadonlyMap<PartId, WrittenLayer>;

/** How it stands between the Desk and its worker. */
export type WorkState =
  | { readonly kind: 'working' }
  | { readonly kind: 'ready' }
  /** Something went wrong in the worker; `again` tells it everything anew. */
  | { readonly kind: 'failed'; readonly message: string; readonly again: () => void };

const LayersContext = createContext<Layers>(new Map());
/** Apart from the layers, so that what shows them is not drawn again each time work begins. */
const WorkContext = createContext<WorkState>({ kind: 'working' });
/** The revision that the worker was told last; 0 before the first. */
const RevisionContext = createContext<Revision>(0);

export const useLayers = (): Layers => useContext(LayersContext);
export const useWorkState = (): WorkState => useContext(WorkContext);
/** True while an answer of the worker is awaited. */
export const useWorking = (): boolean => useWorkState().kind === 'working';
export const useRevision = (): Revision => useContext(RevisionContext);

/** The page comes first; the checks wait until the hand rests. */
const FINDINGS_AFTER = 250;

/** A part without what the worker already has of it. */
export const newsOf = (part: Part, before: Part | undefined): PartNews => {
  const { notes, events, ...rest } = part;
  return {
    ...rest,
    ...(before?.notes === notes ? {} : { notes }),
    ...(before?.events === events ? {} : { events }),
  };
};

/** The layers with newer ones in their place; parts that went are left out. */
export const withLayers = (before: Layers, fresh: readonly PackedLayer[], order: readonly PartId[]): Layers => {
  const layers = new Map([...before].filter(([id]) => order.includes(id)));
  for (const { packed, ...layer } of fresh) {
    const known = layers.get(layer.partId);
    if (known && known.covers > layer.covers) continue;
    layers.set(layer.partId, { ...layer, notes: unpackNotes(packed) });
  }
  return layers;
};

export const WrittenProvider = ({ children }: { readonly children: ReactNode }) => {
  const store = useStore<RootState>();
  const arrangement = useAppSelector(selectArrangement);
  const [layers, setLayers] = useState<Layers>(new Map());
  const [work, setWork] = useState<WorkState>({ kind: 'working' });
  const [revision, setRevision] = useState<Revision>(0);
  const [attempt, setAttempt] = useState(0);
  const session = useRef<{ id: Session; sent: Map<PartId, Part>; newest: Revision; taking: boolean } | null>(null);

  const fail = useCallback((error: unknown, id: Session) => {
    if (isSessionOver(error) || session.current?.id !== id) return;
    const again = () => {
      session.current = null;
      setLayers(new Map());
      setWork({ kind: 'working' });
      setAttempt((count) => count + 1);
    };
    setWork({ kind: 'failed', message: error instanceof Error ? error.message : String(error), again });
  }, []);

  const lookForFindings = useCallback(async () => {
    const own = session.current;
    if (!own) return;
    const asked = own.newest;
    try {
      const { findings } = await askWorker('findings', {});
      if (findings && session.current === own && own.newest === asked) allFindings.set(findings);
    } catch (error) {
      fail(error, own.id);
    }
  }, [fail]);

  /** Takes layers until there are no more, those on view first. A change meanwhile is taken in by the same loop. */
  const takeLayers = useCallback(async () => {
    const own = session.current;
    if (!own || own.taking) return;
    own.taking = true;
    try {
      for (;;) {
        // The front part is the last of those shown, so that it is drawn on top.
        const first = selectShownParts(store.getState())
          .map((part) => part.id)
          .reverse();
        const answer = await askWorker('layers', { first });
        if (session.current !== own) return;
        const order = selectArrangement(store.getState()).parts.map((part) => part.id);
        if (answer.layers.length > 0) setLayers((before) => withLayers(before, answer.layers, order));
        if (answer.left === 0 && answer.covers === own.newest) break;
      }
      setWork({ kind: 'ready' });
    } catch (error) {
      fail(error, own.id);
    } finally {
      own.taking = false;
    }
  }, [store, fail]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another attempt tells everything again
  useEffect(() => {
    session.current ??= { id: beginSession(), sent: new Map(), newest: 0, taking: false };
    const own = session.current;
    const { parts, ...header } = arrangement;
    const changed = parts
      .filter((part) => own.sent.get(part.id) !== part)
      .map((part) => newsOf(part, own.sent.get(part.id)));
    own.sent = new Map(parts.map((part) => [part.id, part]));
    const { revision: told, done } = tellWorker({ header, parts: changed, order: parts.map((part) => part.id) });
    own.newest = told;
    setRevision(told);
    setWork({ kind: 'working' });
    done.catch((error) => fail(error, own.id));
    void takeLayers();
  }, [arrangement, attempt, takeLayers, fail]);

  useEffect(() => {
    if (work.kind !== 'ready') return undefined;
    const timer = setTimeout(() => void lookForFindings(), FINDINGS_AFTER);
    return () => clearTimeout(timer);
  }, [work, lookForFindings]);

  useEffect(
    () => () => {
      session.current = null;
      allFindings.set([]);
    },
    [],
  );

  return (
    <LayersContext value={layers}>
      <WorkContext value={work}>
        <RevisionContext value={revision}>{children}</RevisionContext>
      </WorkContext>
    </LayersContext>
  );
};
