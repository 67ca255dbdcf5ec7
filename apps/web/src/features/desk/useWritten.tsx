/** Keeps the Written layer up to date: asks the worker after each change, shows the last answer until the next arrives. */
import type { Part, PartId } from '@crispfold/core';
import { createContext, type ReactNode, useContext, useEffect, useRef, useState } from 'react';
import { useAppSelector } from '../../app/store.js';
import type { WrittenLayer } from '../../engine/deskWorker.js';
import { deskWorker } from '../../engine/engine.js';
import { selectArrangement } from './selectors.js';

/** The Written layers by part. `serial` grows with each new answer; `working` is true while one is awaited. */
export interface WrittenState {
  readonly layers: ReadonlyMap<PartId, WrittenLayer>;
  readonly serial: number;
  readonly working: boolean;
}

const Context = createContext<WrittenState>({ layers: new Map(), serial: 0, working: false });

export const useWritten = (): WrittenState => useContext(Context);

export const WrittenProvider = ({ children }: { readonly children: ReactNode }) => {
  const arrangement = useAppSelector(selectArrangement);
  const [state, setState] = useState<WrittenState>({ layers: new Map(), serial: 0, working: true });
  const sent = useRef(new Map<PartId, Part>());
  const newest = useRef(arrangement);
  const busy = useRef(false);

  useEffect(() => {
    newest.current = arrangement;
    // One request at a time: what changes meanwhile is sent as one newest state afterwards.
    const run = async () => {
      if (busy.current) return;
      busy.current = true;
      setState((before) => ({ ...before, working: true }));
      try {
        for (let target = newest.current; ; target = newest.current) {
          const { parts, ...header } = target;
          const changed = parts.filter((part) => sent.current.get(part.id) !== part);
          const order = parts.map((part) => part.id);
          const fresh = await deskWorker().update(header, changed, order);
          sent.current = new Map(parts.map((part) => [part.id, part]));
          const done = newest.current === target;
          setState((before) => {
            const layers = new Map([...before.layers].filter(([id]) => order.includes(id)));
            for (const layer of fresh) layers.set(layer.partId, layer);
            return { layers, serial: before.serial + 1, working: !done };
          });
          if (done) break;
        }
      } finally {
        busy.current = false;
      }
    };
    void run();
  }, [arrangement]);

  return <Context value={state}>{children}</Context>;
};
