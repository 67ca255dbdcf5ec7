/** Journeys in a browser: a server of its own for each, on a copy of a database that is ready. */

import { type ChildProcess, fork, spawn } from 'node:child_process';
import { copyFileSync, cpSync, existsSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { test as base, expect } from '@playwright/test';
import { clean } from './clean.js';

const root = path.resolve(import.meta.dirname, '..');

/** The database with the demo, made once before all tests. */
export const READY_DATABASE = path.join(root, 'test-results', 'ready', 'ready.sqlite');
/** The recordings beside it. */
export const READY_RECORDINGS = path.join(path.dirname(READY_DATABASE), 'recordings');

/** A process that starts many servers after one another, by what it is told; one for each worker. */
class House {
  private readonly process = fork(path.join(import.meta.dirname, 'house.mjs'), { execArgv: [] });
  private turns = 0;

  /** Starts a server on a database; answers its address. */
  start(database: string): Promise<string> {
    return this.ask({ database });
  }

  /** Stops the one at an address, as a person does. */
  async stop(address: string): Promise<void> {
    await this.ask({ stop: address });
  }

  leave(): void {
    this.process.kill();
  }

  private ask(asked: { readonly database: string } | { readonly stop: string }): Promise<string> {
    this.turns += 1;
    const turn = this.turns;
    return new Promise((resolve, reject) => {
      const hear = (answer: { turn: number; address: string; problem?: string }): void => {
        if (answer.turn !== turn) return;
        this.process.off('message', hear);
        if (answer.problem === undefined) resolve(answer.address);
        else reject(new Error(answer.problem));
      };
      this.process.on('message', hear);
      this.process.send({ turn, ...asked });
    });
  }
}

/** A running server: in the house, or in a process of its own, which can be killed. */
export class Server {
  private house: House | undefined;
  private child: ChildProcess | undefined;
  address = '';

  constructor(private readonly database: string) {}

  /** Starts in the house. */
  async moveIn(house: House): Promise<void> {
    this.address = await house.start(this.database);
    this.house = house;
  }

  /** Goes on in a process of its own, on the same database and port. */
  async moveOut(): Promise<void> {
    await this.stop();
    await this.start();
  }

  /** Starts (again, on the same database and port) in a process of its own. */
  async start(environment: NodeJS.ProcessEnv = {}): Promise<void> {
    const port = this.address ? new URL(this.address).port : '0';
    const child = spawn(process.execPath, ['apps/server/dist/main.js'], {
      cwd: root,
      env: {
        ...process.env,
        CRISPFOLD_DEMO: 'yes',
        CRISPFOLD_PORT: port,
        CRISPFOLD_DATABASE: this.database,
        ...environment,
      },
    });
    this.child = child;
    this.address = await new Promise<string>((resolve, reject) => {
      child.stdout?.on('data', (data: Buffer) => {
        const found = /http:\S+/.exec(data.toString());
        if (found) resolve(found[0]);
      });
      child.once('exit', (code) => reject(new Error(`The server ended with ${code}`)));
    });
  }

  /** Ends it at once, as a power cut would. */
  async kill(): Promise<void> {
    if (this.house) throw new Error('A server in the house cannot be killed: move it out first.');
    await this.end('SIGKILL');
  }

  /** Ends it as a person does: what is under way is finished. */
  async stop(): Promise<void> {
    await this.house?.stop(this.address);
    this.house = undefined;
    await this.end('SIGTERM');
  }

  private async end(signal: NodeJS.Signals): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    await new Promise((resolve) => {
      child.once('exit', resolve);
      child.kill(signal);
    });
  }
}

/** Tests with a server of their own, and a list of what the browser complained of. */
export const test = base.extend<{ server: Server; troubles: string[]; firstVisit: boolean }, { house: House }>({
  house: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright wants the pattern
    async ({}, use) => {
      const house = new House();
      await use(house);
      house.leave();
    },
    { scope: 'worker' },
  ],
  firstVisit: [false, { option: true }],
  server: async ({ house }, use) => {
    const database = path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-e2e-')), 'test.sqlite');
    for (const ending of ['', '-wal']) {
      if (existsSync(READY_DATABASE + ending)) copyFileSync(READY_DATABASE + ending, database + ending);
    }
    cpSync(READY_RECORDINGS, path.join(path.dirname(database), 'recordings'), { recursive: true });
    const server = new Server(database);
    await server.moveIn(house);
    await use(server);
    await server.stop();
  },
  // The browser leaves first, so that the server has nothing under way when it stops.
  context: async ({ server: _, context }, use) => use(context),
  // The tour of a first visit is for those who come for the first time.
  page: async ({ page, firstVisit }, use) => {
    if (!firstVisit) await page.addInitScript(() => localStorage.setItem('crispfold-tour', 'seen'));
    // A browser that is told to spare: what the workers rehearse is not seen, and would take the processor from other tests.
    await page.addInitScript(() =>
      Object.defineProperty(navigator, 'connection', { value: { saveData: true }, configurable: true }),
    );
    await use(page);
  },
  troubles: async ({ page }, use) => {
    const troubles: string[] = [];
    page.on('pageerror', (error) => troubles.push(error.message));
    page.on('console', (message) => {
      if (message.type() === 'error') troubles.push(message.text());
    });
    await use(troubles);
  },
});

export const stage = { test, expect, clean };
