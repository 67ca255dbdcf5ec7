/** The whole application in this process: its server, its workers, its screens. */
import './browser.js';
import { copyFileSync, cpSync, existsSync } from 'node:fs';
import path from 'node:path';
import { IDBFactory } from 'fake-indexeddb';
import { createRoot, type Root } from 'react-dom/client';
import { createDemo } from '../../apps/server/src/createDemo.js';
import { newFile, type Running, startServer } from '../../apps/server/src/testing/running.js';
import { Application } from '../../apps/web/src/app/Application.js';
import { createPageServices, type PageServices } from '../../apps/web/src/engine/pageServices.js';
import { workersForTests } from '../../apps/web/src/engine/workersForTests.js';
import { PATIENCE, pause } from './locator.js';

const workers = workersForTests();
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
    this.root.render(<Application services={this.services} />);
  }

  private leave(): void {
    if (!this.root) return;
    dispatchEvent(new Event('pagehide'));
    this.root.unmount();
    this.root = undefined;
    // A page that is left does no more.
    this.services?.deskOpened({ close: () => undefined });
  }

  /** Waits until what was made is no more on its way: the next journey's server has the same arrangements. */
  private async sent(): Promise<void> {
    const onItsWay = () =>
      [...document.querySelectorAll('header [role="status"]')].some((said) => said.textContent === 'Saving…');
    for (const until = Date.now() + PATIENCE; onItsWay() && Date.now() < until; ) await pause(20);
  }

  /** The end of the journey. */
  async close(): Promise<void> {
    await this.sent();
    this.leave();
    await this.server.stop();
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
