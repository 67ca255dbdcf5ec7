/** The whole application in this process: its server, its workers, its screens. */
import './browser.js';
import { copyFileSync, cpSync, existsSync } from 'node:fs';
import path from 'node:path';
import { type Endpoint, expose } from 'comlink';
import { IDBFactory } from 'fake-indexeddb';
import { createRoot, type Root } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { Toaster } from 'sonner';
import { createDemo } from '../../apps/server/src/createDemo.js';
import { newFile, type Running, startServer } from '../../apps/server/src/testing/running.js';
import { createRouter } from '../../apps/web/src/app/router.js';
import { createDeskWorker } from '../../apps/web/src/engine/deskDoor.js';
import type { WorkerStarts } from '../../apps/web/src/engine/engine.js';
import { createEngraver } from '../../apps/web/src/engine/engraver.js';
import { createPageServices, type PageServices, PageServicesContext } from '../../apps/web/src/engine/pageServices.js';
import { createSoundWorker } from '../../apps/web/src/engine/sounding.js';
import { createLibraryStore } from '../../apps/web/src/library/libraryStore.js';

/** A line to what works in this process, over which things go as they go to a worker: copied. */
const lineTo = (works: object): Endpoint => {
  const { port1, port2 } = new MessageChannel();
  expose(works, port2);
  return port1;
};

/** All journeys of a file share it, as it takes long to start. */
const engraver = createEngraver();
const workers: WorkerStarts = {
  desk: () => lineTo(createDeskWorker()),
  engraver: () => lineTo(engraver),
  score: () => ({ line: lineTo(engraver), end: () => undefined }),
  sound: () => lineTo(createSoundWorker()),
};

const itsFetch = globalThis.fetch;

/** Made once: the database with the demo. */
let ready: Promise<string> | undefined;
const readyDatabase = async (): Promise<string> => {
  const file = newFile();
  const server = await startServer(file);
  await createDemo(server.store, server.recordings, server.workFolder);
  await server.stop();
  return file;
};

/** A running server and what is shown of it. */
export class App {
  private root: Root | undefined;
  private services: PageServices | undefined;
  /** Told of each answer that came. */
  readonly answered = new Set<(response: Response) => void>();
  private constructor(
    private readonly file: string,
    private server: Running,
  ) {}

  static async open(): Promise<App> {
    ready ??= readyDatabase();
    const from = await ready;
    const file = newFile();
    for (const ending of ['', '-wal']) if (existsSync(from + ending)) copyFileSync(from + ending, file + ending);
    cpSync(path.join(path.dirname(from), 'recordings'), path.join(path.dirname(file), 'recordings'), {
      recursive: true,
    });
    localStorage.clear();
    sessionStorage.clear();
    globalThis.indexedDB = new IDBFactory();
    return new App(file, await startServer(file));
  }

  get address(): string {
    return `${new URL(this.server.base).origin}/`;
  }

  /** Shows an address anew, as a browser that goes there. */
  async show(place: string): Promise<void> {
    this.leave();
    globalThis.fetch = async (asked, init) => {
      const address = typeof asked === 'string' ? new URL(asked, this.address) : asked;
      const response = await itsFetch(address, init as RequestInit);
      for (const told of this.answered) told(response);
      return response;
    };
    history.replaceState(null, '', place);
    const element = document.createElement('div');
    document.body.replaceChildren(element);
    this.services = createPageServices(workers);
    this.root = createRoot(element);
    this.root.render(
      <PageServicesContext value={this.services}>
        <RouterProvider router={createRouter(createLibraryStore())} />
        <Toaster />
      </PageServicesContext>,
    );
  }

  private leave(): void {
    if (!this.root) return;
    dispatchEvent(new Event('pagehide'));
    this.root.unmount();
    this.root = undefined;
    // A page that is left does no more.
    this.services?.deskOpened({ close: () => undefined });
  }

  /** The end of the journey. */
  async close(): Promise<void> {
    this.leave();
    // What the page that is left was about to send must not reach the next journey's server.
    globalThis.fetch = () => Promise.reject(new TypeError('This page is gone.'));
    await this.server.stop();
    await new Promise((resolve) => setTimeout(resolve, 300));
    globalThis.fetch = itsFetch;
  }

  /** Each journey has a server of its own already. */
  async moveOut(): Promise<void> {}
  /** The server is gone; what it was asked meanwhile finds nobody. */
  async stop(): Promise<void> {
    await this.server.stop();
  }
  async kill(): Promise<void> {
    await this.server.stop();
  }
  /** It is there again, at the same place. */
  async start({ CRISPFOLD_TOKEN: token }: { readonly CRISPFOLD_TOKEN?: string } = {}): Promise<void> {
    this.server = await startServer(this.file, token ? { token } : {});
  }
}
