/** What the benchmarks of the Desk share: a server of its own, a browser, and ways of timing what a person does. */
import { spawn } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Arrangement, median as middleOf, writePlayedMidi } from '@crispfold/core';
import { chromium, type Page } from '@playwright/test';

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

/** Wheel turns over the roll, one a frame; milliseconds of script and paint in each, by the browser's own long view. */
export const frames = async (): Promise<{ median: number; worst: number }> => {
  const times = await page.evaluate(
    () =>
      new Promise<number[]>((resolve) => {
        const roll = document.querySelector('[data-testid="roll"]') as HTMLElement;
        const box = roll.getBoundingClientRect();
        const found: number[] = [];
        let count = 0;
        const turn = (before: number) => {
          const direction = count < 40 ? 1 : -1;
          const began = performance.now();
          roll.dispatchEvent(
            new WheelEvent('wheel', {
              deltaX: 30 * direction,
              clientX: box.x + 400,
              clientY: box.y + 200,
              bubbles: true,
              cancelable: true,
            }),
          );
          requestAnimationFrame(() => {
            // After the frame's own work: what the main thread spent on it.
            const channel = new MessageChannel();
            channel.port1.onmessage = () => {
              found.push(performance.now() - began);
              count += 1;
              if (count < 80) requestAnimationFrame(turn);
              else resolve(found);
            };
            channel.port2.postMessage(0);
          });
          void before;
        };
        requestAnimationFrame(turn);
      }),
  );
  return { median: median(times), worst: Math.max(...times) };
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
