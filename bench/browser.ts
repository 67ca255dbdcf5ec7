/** What the benchmarks of the Desk share: a server of its own, a browser, and ways of timing what a person does. */
import { spawn } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Arrangement, median as middleOf, writePlayedMidi } from '@crispfold/core';
import { chromium, type Page } from '@playwright/test';
import { boxAround, createRows, fitBox, xOfTick, yOfPitch } from '../apps/web/src/features/desk/roll/rollView.js';

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
        const roll = document.querySelector('[data-testid="roll"]') as HTMLElement;
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
  const box = await page.getByTestId('roll').boundingBox();
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

/** From a key that moves a note to the new picture of the page. */
export const editToPage = async (): Promise<number> => {
  await page.getByTestId('roll').focus();
  await page.keyboard.press('.');
  await page.waitForTimeout(1500);
  const times: number[] = [];
  for (let turn = 0; turn < 12; turn += 1) {
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

/** Opens an arrangement of the library. */
export const openFirst = async (name: string | RegExp) => {
  await page.goto(address);
  await page.getByRole('link', { name }).first().click();
  await page.getByTestId('page').locator('svg g.note').first().waitFor({ state: 'attached', timeout: 60_000 });
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
  await page.getByTestId('page').locator('svg g.note').first().waitFor({ state: 'attached', timeout: 120_000 });
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
