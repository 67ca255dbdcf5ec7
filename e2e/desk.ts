/** What browser tests share: a server of its own for each, on a copy of a database that is ready; how they speak to the Desk. */
import { type ChildProcess, fork, spawn } from 'node:child_process';
import { copyFileSync, cpSync, existsSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { asComposed, MELODIES, perform, rememberedScore, writePlayedMidi } from '@crispfold/core';
import { test as base, expect, type Locator, type Page } from '@playwright/test';
import axe from 'axe-core';

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

/** Waits until the Desk takes keys. */
export const deskReady = (page: Page): Promise<void> => expect(roll(page)).toBeVisible({ timeout: 30_000 });

/** Opens the demo on the Desk; its page may come later. */
export const openDemo = async (page: Page, server: Server): Promise<void> => {
  await page.goto(server.address);
  await page.getByRole('link', { name: 'Saltmarsh Lanterns' }).click();
  await deskReady(page);
};

/** Brings a melody from memory in as a flute played it, and opens it with its page: a dozen bars, its pickup not yet noticed. */
export const bringInTune = async (page: Page, server: Server, title: string): Promise<void> => {
  const tune = MELODIES.find(([name]) => name === title);
  if (!tune) throw new Error(`There is no ${title}.`);
  const score = rememberedScore(tune);
  const composed = asComposed(score, { instrument: 'flute', program: 73 }, 96, false);
  const hidden = { ...composed, parts: composed.parts.map((part) => ({ ...part, notes: score.notes })) };
  const played = perform(hidden, { seed: 3, ppq: 480, spread: 12, lengths: [0.85, 0.97], doubles: 0, specks: 0 });
  await page.goto(server.address);
  await page
    .getByLabel('MIDI files', { exact: true })
    .setInputFiles({ name: `${title}.mid`, mimeType: 'audio/midi', buffer: Buffer.from(writePlayedMidi(played)) });
  await pageReady(page);
};

/** Waits until the page under the roll is engraved. */
export const pageReady = (page: Page): Promise<void> =>
  expect(engraved(page).locator('svg g.note').first()).toBeAttached({ timeout: 30_000 });

/** Waits until all is on disk. */
export const saved = (page: Page): Promise<void> => expect(saveState(page)).toHaveText('Saved');

/** The history's entries. */
export const historyOf = async (page: Page): Promise<string[]> => {
  await page.getByRole('tab', { name: 'More' }).click();
  const lines = await page.getByRole('region', { name: 'History' }).getByRole('listitem').allTextContents();
  return lines.map((line) => line.replace(/^\d+/, ''));
};

/** The roll; dialogs over it hide it from readers, and not from the eye. */
export const roll = (page: Page): Locator => group(page, /^Roll of all parts/);

/** What has this role and name, whether or not a dialog lies over it. */
const named = (page: Page, role: Parameters<Page['getByRole']>[0], name: string | RegExp): Locator =>
  page.getByRole(role, { name, includeHidden: true });
const group = (page: Page, name: string | RegExp): Locator => named(page, 'group', name);

/** The page under the roll. */
export const engraved = (page: Page): Locator => named(page, 'region', 'Engraved bars');
/** The whole piece above the roll. */
export const pieceStrip = (page: Page): Locator => named(page, 'scrollbar', 'The whole piece');
/** A lane under the roll. */
export const lane = (page: Page, name: string): Locator => group(page, new RegExp(`^Lane ${name}`));
/** Everything as a table. */
export const table = (page: Page): Locator => named(page, 'grid', /^Rows/);
/** The score view's pages, and which of them is seen. */
export const scorePages = (page: Page): Locator => group(page, /^Pages\./);
export const scorePlace = (page: Page): Locator => group(page, 'Place in the score');
/** Where notes are entered by letters, in words, and on the page; where a take is. */
export const entryPlace = (page: Page): Locator => group(page, 'Place of entry');
export const caret = (page: Page): Locator => named(page, 'img', 'Where the next note is entered');
export const takePlace = (page: Page): Locator => group(page, 'Place of the take');
/** The recording under the ruler. */
export const recordingStrip = (page: Page): Locator => named(page, 'slider', /^Where the recording begins/);
/** How the work stands on disk, in words. */
export const saveState = (page: Page): Locator =>
  page.locator('header').getByRole('status', { includeHidden: true }).first();

/** What stands above the notes of the demo, in pixels. */
export const ROLL_HEAD = 46;

/** Goes to the next note, and looks at it alone: it then lies in the middle of the roll, which is answered. */
export const lookAtNextNote = async (page: Page): Promise<readonly [x: number, y: number]> => {
  await focusRoll(page);
  await page.keyboard.press('.');
  await page.keyboard.press('z');
  const box = await roll(page).boundingBox();
  if (!box) throw new Error('There is no roll.');
  // Left of the notes stand the keys, above them the ruler.
  return [box.x + 40 + (box.width - 40) / 2, box.y + ROLL_HEAD + (box.height - ROLL_HEAD) / 2];
};

/** Puts the keys' focus on the roll without touching what is in it. */
export const focusRoll = (page: Page): Promise<void> => roll(page).focus();

/** Presses keys one after another, on the roll. */
export const press = async (page: Page, ...keys: string[]): Promise<void> => {
  await focusRoll(page);
  for (const key of keys) await page.keyboard.press(key);
};

/** What a screen reader was last told. */
export const spokenWords = (page: Page): Locator => page.locator('footer [aria-live]');

/** A region by its name. */
export const panel = (page: Page, name: string): Locator => page.getByRole('region', { name, exact: true });

/** What of a screen is looked through, and by which rules; all where left out. */
export interface Looked {
  readonly within?: string;
  /** Engraved pictures, which are large, can be left out. */
  readonly but?: string;
  readonly rules?: readonly string[];
  readonly without?: readonly string[];
}

/** Nothing on the screen that axe-core complains of. Its code, which is large, is brought into a page once. */
export const clean = async (page: Page, { within, but, rules, without = [] }: Looked = {}): Promise<void> => {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source);
  const where: axe.ContextSpec = { include: within ?? 'html', ...(but ? { exclude: but } : {}) };
  const options: axe.RunOptions = {
    resultTypes: ['violations'],
    selectors: false,
    rules: Object.fromEntries(without.map((rule) => [rule, { enabled: false }])),
    ...(rules ? { runOnly: { type: 'rule', values: [...rules] } } : {}),
  };
  const violations = await page.evaluate(
    async ({ context, run }) => {
      const found = await (window as unknown as { axe: typeof axe }).axe.run(context as axe.ContextSpec, run);
      return found.violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html).join(' | ')}`);
    },
    { context: where as { include: string }, run: options },
  );
  expect(violations).toEqual([]);
};

/** Opens a list by its key and presses a letter in it. */
export const list = async (page: Page, letters: string): Promise<void> => {
  const [leader = '', letter = ''] = letters.split(' ');
  await press(page, leader);
  await page.keyboard.press(letter);
};
