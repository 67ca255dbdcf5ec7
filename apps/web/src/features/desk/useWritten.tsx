/** Keeps the Written layer and the findings up to date: asks the worker after each change, shows the last answer until the next. */
import type { Part, PartId } from '@crispfold/core';
import { createContext, type ReactNode, useContext, useEffect, useRef, useState } from 'react';
import { useAppSelector } from '../../app/store.js';
import type { WrittenLayer } from '../../engine/deskWorker.js';
import { deskWorker } from '../../engine/engine.js';
import { allFindings } from './findings/findingList.js';
import { selectArrangement } from './selectors.js';

/** The Written layers by part. `serial` grows with each new answer; `working` is true while one is awaited. */
export interface WrittenState {
  readonly layers: ReadonlyMap<PartId, WrittenLayer>;
  readonly serial: number;
  readonly working: boolean;
}

const Context = createContext<WrittenState>({ layers: new Map(), serial: 0, working: false });

export const useWritten = (): WrittenState => useContext(Context);

/** The page comes first; the checks wait until the hand rests. */
const FINDINGS_AFTER = 250;

export const WrittenProvider = ({ children }: { readonly children: ReactNode }) => {
  const arrangement = useAppSelector(selectArrangement);
  const [state, setState] = useState<WrittenState>({ layers: new Map(), serial: 0, working: true });
  const sent = useRef(new Map<PartId, Part>());
  const turn = useRef(0);

  useEffect(() => {
    turn.current += 1;
    const own = turn.current;
    const { parts, ...header } = arrangement;
    const changed = parts.filter((part) => sent.current.get(part.id) !== part);
    const order = parts.map((part) => part.id);
    sent.current = new Map(parts.map((part) => [part.id, part]));
    setState((before) => (before.working ? before : { ...before, working: true }));
    let checks: ReturnType<typeof setTimeout> | undefined;
    void deskWorker()
      .update(own, header, changed, order)
      .then((fresh) => {
        // A newer request answers for this one too.
        if (!fresh || own !== turn.current) return;
        setState((before) => {
          const layers = new Map([...before.layers].filter(([id]) => order.includes(id)));
          for (const layer of fresh) layers.set(layer.partId, layer);
          return { layers, serial: before.serial + 1, working: false };
        });
        checks = setTimeout(async () => {
          const findings = await deskWorker().findings(own);
          if (findings && own === turn.current) allFindings.set(findings);
        }, FINDINGS_AFTER);
      });
    return () => clearTimeout(checks);
  }, [arrangement]);

  useEffect(() => () => allFindings.set([]), []);

  return <Context value={state}>{children}</Context>;
};
