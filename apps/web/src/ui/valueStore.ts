/** A value outside Redux for what changes many times a second (the playhead, the words at the foot). */
import { useSyncExternalStore } from 'react';

/** A value one can read, set and listen to. */
export interface ValueStore<Value> {
  get(): Value;
  set(value: Value): void;
  subscribe(listener: () => void): () => void;
}

export const createValueStore = <Value>(initial: Value): ValueStore<Value> => {
  let current = initial;
  const listeners = new Set<() => void>();
  return {
    get: () => current,
    set: (value) => {
      if (Object.is(value, current)) return;
      current = value;
      for (const listener of listeners) listener();
    },
    subscribe: (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
  };
};

export const useValue = <Value>(store: Pick<ValueStore<Value>, 'get' | 'subscribe'>): Value =>
  useSyncExternalStore(store.subscribe, store.get);
