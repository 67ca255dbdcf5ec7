/** A page without a browser: an address, what stands there, and the hand that works it, in the words of Playwright. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { ByRoleMatcher } from '@testing-library/dom';
import type { App } from './app.js';
import { Hand } from './hand.js';
import { type ByRole, type ByWords, Locator, PATIENCE, pause, type Words } from './locator.js';

/** A file that the person took away. */
export class Download {
  constructor(
    private readonly name: string,
    private readonly content: Promise<Uint8Array>,
  ) {}
  suggestedFilename(): string {
    return this.name;
  }
  async path(): Promise<string> {
    const file = path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-taken-')), this.name);
    writeFileSync(file, await this.content);
    return file;
  }
  async saveAs(file: string): Promise<void> {
    writeFileSync(file, await this.content);
  }
}

const nameOf = (response: Response): string =>
  /filename="?([^";]*)"?/.exec(response.headers.get('Content-Disposition') ?? '')?.[1] ?? 'file';

/** What fails before it is awaited fails then. */
const awaitedLater = <Answer>(coming: Promise<Answer>): Promise<Answer> => {
  coming.catch(() => undefined);
  return coming;
};

export class Page {
  private readonly hand = new Hand();
  private readonly root = new Locator(this.hand, () => [document.body], 'page');
  readonly keyboard = this.hand;
  readonly mouse = this.hand.mouse;
  private readonly beforehand: (() => void)[] = [];
  private readonly taken: Download[] = [];
  private readonly blobs = new Map<string, Blob>();

  constructor(private readonly app: App) {
    const { blobs, taken } = this;
    URL.createObjectURL = (blob: Blob) => {
      const address = `blob:${blobs.size}`;
      blobs.set(address, blob);
      return address;
    };
    URL.revokeObjectURL = () => undefined;
    const click = HTMLElement.prototype.click;
    HTMLAnchorElement.prototype.click = function (this: HTMLAnchorElement) {
      if (!this.hasAttribute('download')) {
        click.call(this);
        return;
      }
      const blob = blobs.get(this.href);
      if (blob) {
        taken.push(
          new Download(
            this.download,
            blob.arrayBuffer().then((bytes) => new Uint8Array(bytes)),
          ),
        );
        return;
      }
      void fetch(this.href.replace(location.origin, '')).then((response) =>
        taken.push(
          new Download(
            this.download || nameOf(response),
            response.arrayBuffer().then((bytes) => new Uint8Array(bytes)),
          ),
        ),
      );
    };
  }

  async addInitScript(work: () => void): Promise<void> {
    this.beforehand.push(work);
  }
  async goto(address: string): Promise<void> {
    for (const work of this.beforehand) work();
    await this.app.show(new URL(address, this.app.address).pathname);
    await this.hand.settle();
  }
  async reload(): Promise<void> {
    await this.goto(location.pathname);
  }
  url(): string {
    return new URL(location.pathname, this.app.address).href;
  }
  async evaluate<Asked, Answer>(work: (asked: Asked) => Answer, asked: Asked): Promise<Awaited<Answer>> {
    return await work(asked);
  }
  /** Asks the server, past the screens. */
  readonly request = {
    get: (address: string) => this.ask('GET', address),
    delete: (address: string) => this.ask('DELETE', address),
  };
  private async ask(method: string, address: string) {
    const response = await fetch(new URL(address, this.app.address), { method });
    return {
      status: () => response.status,
      ok: () => response.ok,
      json: () => response.json(),
      body: async () => new Uint8Array(await response.arrayBuffer()),
    };
  }
  /** The next file that is taken away. */
  waitForEvent(event: 'download'): Promise<Download> {
    if (event !== 'download') throw new Error(`There is no ${event} here.`);
    const before = this.taken.length;
    const comes = async (): Promise<Download> => {
      for (const until = Date.now() + PATIENCE; Date.now() < until; await pause(15)) {
        const next = this.taken[before];
        if (next) return next;
      }
      throw new Error('Nothing was taken away.');
    };
    return awaitedLater(comes());
  }
  /** The next answer of the server that is one of those meant. */
  waitForResponse(isMeant: (response: { url: () => string; ok: () => boolean }) => boolean): Promise<void> {
    const { answered } = this.app;
    return awaitedLater(
      new Promise((resolve) => {
        const hear = (response: Response) => {
          if (!isMeant({ url: () => response.url, ok: () => response.ok })) return;
          answered.delete(hear);
          resolve();
        };
        answered.add(hear);
      }),
    );
  }

  getByRole(role: ByRoleMatcher & string, options?: ByRole): Locator {
    return this.root.getByRole(role, options);
  }
  getByLabel(words: Words, options?: ByWords): Locator {
    return this.root.getByLabel(words, options);
  }
  getByText(words: Words, options?: ByWords): Locator {
    return this.root.getByText(words, options);
  }
  getByTitle(words: Words, options?: ByWords): Locator {
    return this.root.getByTitle(words, options);
  }
  locator(selector: string): Locator {
    return this.root.locator(selector);
  }
}
