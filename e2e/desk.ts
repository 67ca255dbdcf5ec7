/** A server of our own for each test, on its own database; and how tests speak to the Desk. */
import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, type Locator, type Page } from '@playwright/test';

const root = path.resolve(import.meta.dirname, '..');

/** A running server. */
export class Server {
  private child: ChildProcess | undefined;
  address = '';

  constructor(
    private readonly database = path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-e2e-')), 'test.sqlite'),
  ) {}

  /** Starts (again, on the same database and port). */
  async start(): Promise<void> {
    const port = this.address ? new URL(this.address).port : '0';
    const child = spawn(process.execPath, ['apps/server/dist/main.js'], {
      cwd: root,
      env: { ...process.env, CRISPFOLD_DEMO: 'yes', CRISPFOLD_PORT: port, CRISPFOLD_DATABASE: this.database },
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
    const { child } = this;
    if (!child || child.exitCode !== null) return;
    await new Promise((resolve) => {
      child.once('exit', resolve);
      child.kill('SIGKILL');
    });
  }
}

/** Opens the demo on the Desk and waits for its page. */
export const openDemo = async (page: Page, server: Server): Promise<void> => {
  await page.goto(server.address);
  await page.getByRole('link', { name: 'Saltmarsh Lanterns' }).click();
  await pageReady(page);
};

/** Waits until the page under the roll is engraved. */
export const pageReady = (page: Page): Promise<void> =>
  expect(page.getByTestId('page').locator('svg g.note').first()).toBeAttached({ timeout: 30_000 });

/** Waits until all is on disk. */
export const saved = (page: Page): Promise<void> => expect(page.getByTestId('save-state')).toHaveText('Saved');

/** The history's entries. */
export const historyOf = async (page: Page): Promise<string[]> => {
  await page.getByRole('tab', { name: 'History' }).click();
  const lines = await page.getByRole('region', { name: 'History' }).getByRole('listitem').allTextContents();
  return lines.map((line) => line.replace(/^\d+/, ''));
};

export const roll = (page: Page): Locator => page.getByTestId('roll');

/** Puts the keys' focus on the roll without touching what is in it. */
export const focusRoll = (page: Page): Promise<void> => roll(page).focus();

/** What a screen reader was last told. */
export const spokenWords = (page: Page): Locator => page.getByTestId('spoken');
