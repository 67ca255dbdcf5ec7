/** What lives as long as the page in the browser, whatever arrangement is open: handed down by the application. */
import { createContext, useContext } from 'react';
import { createJustOpened, type JustOpened } from '../browser/justOpened.js';
import { createKeptChangesHere, type KeptChangesHere } from '../browser/keptChanges.js';
import { createEngines, type Engines, type WorkerStarts } from './engine.js';

/** See the file's head. */
export interface PageServices {
  readonly engines: Engines;
  readonly keptChanges: KeptChangesHere;
  readonly justOpened: JustOpened;
  /** One Desk is open at a time: this one, and the one before is closed. What is not saved yet of one that was left goes on being sent until then. */
  readonly deskOpened: (desk: Closeable) => void;
}

/** What can be let go of. */
interface Closeable {
  readonly close: () => void;
}

const oneAtATime = (): ((next: Closeable) => void) => {
  let open: Closeable | null = null;
  return (next) => {
    if (open !== next) open?.close();
    open = next;
  };
};

export const createPageServices = (workers: WorkerStarts): PageServices => ({
  engines: createEngines(workers),
  keptChanges: createKeptChangesHere(),
  justOpened: createJustOpened(),
  deskOpened: oneAtATime(),
});

export const PageServicesContext = createContext<PageServices | null>(null);

export const usePageServices = (): PageServices => {
  const services = useContext(PageServicesContext);
  if (!services) throw new Error('Only inside the application.');
  return services;
};
