/** What the benchmarks of the Desk share: a server of its own, a browser, and ways of timing what a person does. */
import { spawn } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Arrangement, median as middleOf, writePlayedMidi } from '@crispfold/core';
import { chromium, type Page } from '@playwright/test';
import { boxAround, createRows, fitBox, xOfTick, yOfPitch } from '../apps/web/src/desk/state/rollView.js';

const root = process.cwd();
const server = spawn(process.execPath, ['apps/server/dist/main.js'], {
  cwd: root,
  env: {
    ...process.env,
    CRISPFOLD_DEMO: 'yes',
    CRISPFOLD_PORT: '0',
    CRISPFOLD_DATABASE: path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-bench-')), 'b.sqlite'),
  },
});
export const address = await new Promise<string>((resolve) => {
  server.stdout.on('data', (data: Buffer) => {
    const found = /http:\S+/.exec(data.toString());
    if (found) resolve(found[0]);
  });
});
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
});
export const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.addInitScript(() => localStorage.setItem('crispfold-tour', 'seen'));

export const median = (values: readonly number[]): number => middleOf(values) ?? Number.NaN;
/** How many pictures of the page there were so far. */
export const pageMarks = (target: Page) => target.evaluate(() => performance.getEntriesByName('crispfold-page').length);

/** Milliseconds of frames, in the middle and at worst. */
export interface Frames {
  readonly median: number;
  readonly worst: number;
}

const FRAMES = 80;

/**
 * Turns of the wheel, one a frame, over the roll or over a bare canvas that fills the given rectangles (in CSS pixels) at
 * each turn; milliseconds from the turn to the end of the browser's work for it.
 */
const turns = async (rectangles: readonly (readonly [number, number, number, number])[] | null): Promise<Frames> => {
  const times = await page.evaluate(
    ([count, boxes]) =>
      new Promise<number[]>((resolve) => {
        const roll = document.querySelector('#roll') as HTMLElement;
        const place = roll.getBoundingClientRect();
        const bare = document.createElement('canvas');
        bare.width = place.width;
        bare.height = place.height;
        Object.assign(bare.style, { position: 'fixed', left: `${place.x}px`, top: `${place.y}px`, zIndex: '99' });
        const canvas = bare.getContext('2d') as CanvasRenderingContext2D;
        if (boxes) document.body.append(bare);
        let left = 0;
        const turnBare = (direction: number) => {
          left += 30 * direction;
          requestAnimationFrame(() => {
            canvas.clearRect(0, 0, bare.width, bare.height);
            canvas.fillStyle = '#00619a';
            for (const [x, y, width, height] of boxes ?? []) canvas.fillRect(x - left, y, width, height);
          });
        };
        const turnRoll = (direction: number) =>
          roll.dispatchEvent(
            new WheelEvent('wheel', {
              deltaX: 30 * direction,
              clientX: place.x + 400,
              clientY: place.y + 200,
              bubbles: true,
              cancelable: true,
            }),
          );
        const found: number[] = [];
        const turn = () => {
          const direction = found.length < count / 2 ? 1 : -1;
          const began = performance.now();
          if (boxes) turnBare(direction);
          else turnRoll(direction);
          requestAnimationFrame(() => {
            // After the frame's own work: what the main thread spent on it.
            const channel = new MessageChannel();
            channel.port1.onmessage = () => {
              found.push(performance.now() - began);
              if (found.length < count) requestAnimationFrame(turn);
              else {
                bare.remove();
                resolve(found);
              }
            };
            channel.port2.postMessage(0);
          });
        };
        requestAnimationFrame(turn);
      }),
    [FRAMES, rectangles] as const,
  );
  return { median: median(times), worst: Math.max(...times) };
};

/** Frames of the roll while it scrolls. */
export const frames = (): Promise<Frames> => turns(null);

/**
 * Frames of a bare canvas of the roll's size that fills, at each turn, a rectangle for each note that the roll's first
 * look, or its look at everything, would have on view (`bars` bars of 4/4 at 480 PPQ).
 */
export const bareFrames = async (arrangement: Arrangement, bars: number): Promise<Frames> => {
  const box = await page.locator('#roll').boundingBox();
  if (!box) throw new Error('There is no roll.');
  const notes = arrangement.parts.flatMap((part) => part.notes);
  const music = boxAround(notes);
  if (!music) throw new Error('There are no notes.');
  const rows = createRows(null);
  const empty = { left: 0, ticksPerPixel: 4, top: 0, rowHeight: 12, width: box.width - 40, height: box.height - 46 };
  const view = fitBox(empty, rows, { ...music, start: 0, end: Math.min(music.end, bars * 1920) });
  const right = view.left + (view.width + FRAMES * 30) * view.ticksPerPixel;
  return turns(
    notes
      .filter((note) => note.onset < right)
      .map((note) => [
        40 + xOfTick(view, note.onset),
        46 + yOfPitch(view, rows, note.pitch),
        Math.max(2, note.duration / view.ticksPerPixel),
        view.rowHeight - 2,
      ]),
  );
};

/** From a key that moves a note to the new picture of the page; the middle of thirty turns. */
export const editToPage = async (): Promise<number> => {
  await page.locator('#roll').focus();
  await page.keyboard.press('.');
  // Until the machine is idle: who opens an arrangement looks first.
  await page.waitForTimeout(4000);
  const times: number[] = [];
  for (let turn = 0; turn < 30; turn += 1) {
    const before = await pageMarks(page);
    const took = await page.evaluate(
      ([key, count]) =>
        new Promise<number>((resolve) => {
          const began = performance.now();
          document.activeElement?.dispatchEvent(
            new KeyboardEvent('keydown', { key: key as string, code: key as string, bubbles: true }),
          );
          document.activeElement?.dispatchEvent(
            new KeyboardEvent('keyup', { key: key as string, code: key as string, bubbles: true }),
          );
          const look = () => {
            const marks = performance.getEntriesByName('crispfold-page');
            if (marks.length > (count as number))
              resolve((marks[marks.length - 1] as PerformanceEntry).startTime - began);
            else setTimeout(look, 2);
          };
          look();
        }),
      [turn % 2 === 0 ? 'ArrowUp' : 'ArrowDown', before] as const,
    );
    times.push(took);
    await page.waitForTimeout(300);
  }
  return median(times);
};

/** What a trace of the browser tells of one stretch of work; times in microseconds. */
interface TraceEvent {
  readonly name: string;
  readonly ph: string;
  readonly ts: number;
  readonly dur?: number;
  readonly pid: number;
  readonly tid: number;
}

/** The browser's names for work that is our own script: handlers, frames, timers, answers of workers. */
const OWN_SCRIPT = new Set([
  'EventDispatch',
  'FireAnimationFrame',
  'FunctionCall',
  'TimerFire',
  'RunMicrotasks',
  'v8.run',
]);

/**
 * Milliseconds of our own script in each task of the screen's thread while `act` lasts: style, layout, painting and
 * waiting are not counted.
 */
export const scriptDuring = async (act: () => Promise<void>): Promise<Frames> => {
  const session = await page.context().newCDPSession(page);
  const events: TraceEvent[] = [];
  session.on('Tracing.dataCollected', ({ value }) => events.push(...(value as unknown as TraceEvent[])));
  const ended = new Promise<void>((resolve) => session.once('Tracing.tracingComplete', () => resolve()));
  await session.send('Tracing.start', { categories: 'devtools.timeline,toplevel,v8', transferMode: 'ReportEvents' });
  await act();
  await session.send('Tracing.end');
  await ended;
  await session.detach();
  // The screen's thread is the one that fires frames.
  const screen = events.find(({ name }) => name === 'FireAnimationFrame');
  if (!screen) throw new Error('There was no frame.');
  const own = events
    .filter((event) => event.pid === screen.pid && event.tid === screen.tid && event.ph === 'X')
    .sort((a, b) => a.ts - b.ts);
  const tasks = own.filter(({ name }) => name === 'RunTask' || name === 'ThreadControllerImpl::RunTask');
  const scripts = own.filter(({ name }) => OWN_SCRIPT.has(name));
  const times: number[] = [];
  let at = 0;
  for (const task of tasks) {
    const end = task.ts + (task.dur ?? 0);
    let spent = 0;
    let until = task.ts;
    while (at < scripts.length && (scripts[at] as TraceEvent).ts < task.ts) at += 1;
    for (; at < scripts.length && (scripts[at] as TraceEvent).ts < end; at += 1) {
      const { ts, dur = 0 } = scripts[at] as TraceEvent;
      // Calls within calls count once.
      spent += Math.max(0, ts + dur - Math.max(ts, until));
      until = Math.max(until, ts + dur);
    }
    // What is under a millisecond is no frame of a drag.
    if (spent > 1000) times.push(spent / 1000);
  }
  return { median: median(times), worst: Math.max(...times) };
};

/** The roll's middle. */
const middleOfRoll = async (): Promise<readonly [x: number, y: number]> => {
  const box = await page.locator('#roll').boundingBox();
  if (!box) throw new Error('There is no roll.');
  return [box.x + 40 + (box.width - 40) / 2, box.y + 46 + (box.height - 46) / 2];
};

/** Our own script while about a hundred notes of all parts are dragged about for thirty moves of the hand, and let go. */
export const dragHundred = async (): Promise<Frames & { readonly notes: number }> => {
  await page.locator('#roll').focus();
  for (const key of ['Escape', '.', 'z']) await page.keyboard.press(key);
  await page.waitForTimeout(500);
  const [x] = await middleOfRoll();
  const box = await page.locator('#roll').boundingBox();
  if (!box) throw new Error('There is no roll.');
  await page.keyboard.press('0');
  for (let press = 0; press < 6; press += 1) await page.keyboard.press('+');
  await page.keyboard.press('r');
  await page.waitForTimeout(800);
  const chosen = async () =>
    Number(
      /([\d,]+) notes? selected/
        .exec((await page.getByRole('contentinfo').textContent()) ?? '')?.[1]
        ?.replace(',', '') ?? 0,
    );
  // A box that grows until it holds a hundred.
  let notes = 0;
  let right = x;
  for (; notes < 100 && right < box.x + box.width - 10; right += 2) {
    await page.mouse.move(x - 4, box.y + 50);
    await page.mouse.down();
    await page.mouse.move(right, box.y + box.height - 4, { steps: 3 });
    await page.mouse.up();
    notes = await chosen();
  }
  // One of them, to take hold of: where the words at the foot offer to move it.
  let grip: readonly [number, number] | undefined;
  for (let row = box.y + 60; row < box.y + box.height - 10 && !grip; row += 3) {
    for (let at = x - 2; at < right - 2 && !grip; at += 3) {
      await page.mouse.move(at, row);
      if ((await page.getByRole('contentinfo').textContent())?.includes('Drag to move')) grip = [at, row];
    }
  }
  if (!grip) throw new Error('There is no note to take hold of.');
  const [gx, gy] = grip;
  await page.mouse.move(gx, gy);
  await page.mouse.down();
  await page.mouse.move(gx + 10, gy);
  const found = await scriptDuring(async () => {
    for (let turn = 1; turn <= 30; turn += 1) {
      await page.mouse.move(gx + 10 + turn * 4, gy - (turn % 5) * 6);
      await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))));
    }
  });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await page.keyboard.press('r');
  return { ...found, notes };
};

/** From a key to the end of the browser's work for it, in milliseconds: the middle of so many turns. */
const keyTimes = async (keys: readonly string[], turns: number): Promise<Map<string, number>> => {
  const times = new Map<string, number[]>();
  for (let turn = 0; turn < turns; turn += 1) {
    for (const key of keys) {
      const took = await page.evaluate(
        (pressed) =>
          new Promise<number>((resolve) => {
            const [code = '', ...held] = pressed.split('+').reverse();
            const options = {
              key: code,
              code,
              altKey: held.includes('Alt'),
              shiftKey: held.includes('Shift'),
              bubbles: true,
            };
            const began = performance.now();
            const roll = document.querySelector('#roll') as HTMLElement;
            roll.dispatchEvent(new KeyboardEvent('keydown', options));
            roll.dispatchEvent(new KeyboardEvent('keyup', options));
            requestAnimationFrame(() => {
              const channel = new MessageChannel();
              channel.port1.onmessage = () => resolve(performance.now() - began);
              channel.port2.postMessage(0);
            });
          }),
        key,
      );
      times.set(key, [...(times.get(key) ?? []), took]);
      await page.waitForTimeout(1500);
    }
  }
  return new Map([...times].map(([key, found]) => [key, median(found)]));
};

/** All notes of all parts: selecting them, moving them, making them louder, and undo, each to the end of its frame. */
export const allNotes = async (turns: number) => {
  await page.locator('#roll').focus();
  await page.keyboard.press('r');
  await page.waitForTimeout(300);
  const times = await keyTimes(['Escape', 'a', 'ArrowRight', 'u', 'Alt+ArrowUp', 'u'], turns);
  await page.keyboard.press('r');
  return {
    turns,
    select: times.get('a') ?? Number.NaN,
    move: times.get('ArrowRight') ?? Number.NaN,
    louder: times.get('Alt+ArrowUp') ?? Number.NaN,
    undo: times.get('u') ?? Number.NaN,
  };
};

/** From a key in a field of a sentence to its new count, all parts in reach; the middle of so many turns. */
export const sentenceCounts = async (turns: number): Promise<number> => {
  await page.locator('#roll').focus();
  for (const key of ['Escape', 'r', '6']) await page.keyboard.press(key);
  await page.keyboard.press('w');
  const builder = page.getByRole('region', { name: 'Where … do …' });
  await builder.getByText(/^[\d,]+ notes?$/).waitFor({ timeout: 60_000 });
  const times: number[] = [];
  for (let turn = 0; turn < turns; turn += 1) {
    const took = await page.evaluate(
      (to) =>
        new Promise<number>((resolve) => {
          const words = document.querySelector('section[aria-label="Line 1"] [role="status"] b') as HTMLElement;
          const before = words.textContent;
          const field = document.querySelector(
            'section[aria-label="Line 1"] input[aria-label="To"]',
          ) as HTMLInputElement;
          const began = performance.now();
          Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set?.call(field, String(to));
          field.dispatchEvent(new Event('input', { bubbles: true }));
          field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
          const look = () => {
            if (words.textContent !== before && words.textContent !== '…') resolve(performance.now() - began);
            else setTimeout(look, 1);
          };
          look();
        }),
      70 + (turn % 2) * 12 + turn,
    );
    times.push(took);
    await page.waitForTimeout(700);
  }
  await page.keyboard.press('Escape');
  await page.locator('#roll').focus();
  await page.keyboard.press('r');
  return median(times);
};

/** Opens an arrangement of the library. */
export const openFirst = async (name: string | RegExp) => {
  await page.goto(address);
  await page.getByRole('link', { name }).first().click();
  await page
    .locator('[aria-label="Engraved bars"]')
    .locator('svg g.note')
    .first()
    .waitFor({ state: 'attached', timeout: 60_000 });
  await page.waitForTimeout(1500);
};

const folder = mkdtempSync(path.join(tmpdir(), 'crispfold-made-'));

/** A MIDI file of a made arrangement. */
export const fileOf = (arrangement: Arrangement, name: string): string => {
  const file = path.join(folder, `${name}.mid`);
  writeFileSync(file, writePlayedMidi(arrangement));
  return file;
};

/** Milliseconds from the drop of a file on the library to the first picture of its page. */
export const dropToPage = async (file: string): Promise<number> => {
  await page.goto(address);
  await page.getByLabel('MIDI files', { exact: true }).waitFor({ state: 'attached' });
  // A person needs as long to find the file.
  await page.waitForLoadState('networkidle');
  await page.waitForTimeout(1500);
  const began = Date.now();
  await page.getByLabel('MIDI files', { exact: true }).setInputFiles(file);
  await page
    .locator('[aria-label="Engraved bars"]')
    .locator('svg g.note')
    .first()
    .waitFor({ state: 'attached', timeout: 120_000 });
  return Date.now() - began;
};

/** Milliseconds from now until the Desk has nothing more to work out. */
export const untilReady = async (): Promise<number> => {
  const began = Date.now();
  await page.getByText('working…').first().waitFor({ state: 'hidden', timeout: 120_000 });
  return Date.now() - began;
};

/** Ends the browser and the server. */
export const end = async (): Promise<void> => {
  await browser.close();
  server.kill();
};
