/** Keeps the Written layer and the findings up to date: asks the worker after each change, shows the last answer until the next. */
import type { Part, PartId } from '@crispfold/core';
import { createContext, type ReactNode, useContext, useEffect, useRef, useState } from 'react';
import { useAppSelector } from '../../app/store.js';
import type { PartNews, WrittenLayer } from '../../engine/deskWorker.js';
import { deskWorker } from '../../engine/engine.js';
import { unpackNotes } from '../../engine/packedNotes.js';
import { allFindings } from './findings/findingList.js';
import { selectArrangement } from './selectors.js';

/** The Written layers by part. `serial` grows with each new answer. */
export interface WrittenState {
  readonly layers: ReadonlyMap<PartId, WrittenLayer>;
  readonly serial: number;
}

const Context = createContext<WrittenState>({ layers: new Map(), serial: 0 });
/** Apart from the layers, so that what shows them is not drawn again each time work begins. */
const Working = createContext(false);

export const useWritten = (): WrittenState => useContext(Context);

/** True while an answer of the worker is awaited. */
export const useWorking = (): boolean => useContext(Working);

/** The page comes first; the checks wait until the hand rests. */
const FINDINGS_AFTER = 250;

/** A part without what the worker already has of it. */
const newsOf = (part: Part, before: Part | undefined): PartNews => {
  const { notes, events, ...rest } = part;
  return {
    ...rest,
    ...(before?.notes === notes ? {} : { notes }),
    ...(before?.events === events ? {} : { events }),
  };
};

export const WrittenProvider = ({ children }: { readonly children: ReactNode }) => {
  const arrangement = useAppSelector(selectArrangement);
  const [state, setState] = useState<WrittenState>({ layers: new Map(), serial: 0 });
  const [working, setWorking] = useState(true);
  const sent = useRef(new Map<PartId, Part>());
  const turn = useRef(0);

  useEffect(() => {
    turn.current += 1;
    const own = turn.current;
    const { parts, ...header } = arrangement;
    const changed = parts
      .filter((part) => sent.current.get(part.id) !== part)
      .map((part) => newsOf(part, sent.current.get(part.id)));
    const order = parts.map((part) => part.id);
    sent.current = new Map(parts.map((part) => [part.id, part]));
    setWorking(true);
    let checks: ReturnType<typeof setTimeout> | undefined;
    void deskWorker()
      .update(own, header, changed, order)
      .then((fresh) => {
        // A newer request answers for this one too.
        if (!fresh || own !== turn.current) return;
        setState((before) => {
          const layers = new Map([...before.layers].filter(([id]) => order.includes(id)));
          for (const { packed, ...layer } of fresh) layers.set(layer.partId, { ...layer, notes: unpackNotes(packed) });
          return { layers, serial: before.serial + 1 };
        });
        setWorking(false);
        checks = setTimeout(async () => {
          const findings = await deskWorker().findings(own);
          if (findings && own === turn.current) allFindings.set(findings);
        }, FINDINGS_AFTER);
      });
    return () => clearTimeout(checks);
  }, [arrangement]);

  useEffect(() => () => allFindings.set([]), []);

  return (
    <Context value={state}>
      <Working value={working}>{children}</Working>
    </Context>
  );
};
