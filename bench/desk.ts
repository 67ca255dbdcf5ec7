/** Times the Desk in the browser: frames of the roll with a large file, and from an edit to the new page. */
import { spawn } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { writePlayedMidi } from '@crispfold/core';
import { chromium, type Page } from '@playwright/test';
import { made } from './made.js';

const LARGEST = '/usr/share/planetblupi/music/music009.mid';
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
const address = await new Promise<string>((resolve) => {
  server.stdout.on('data', (data: Buffer) => {
    const found = /http:\S+/.exec(data.toString());
    if (found) resolve(found[0]);
  });
});
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });

const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] ?? Number.NaN;
const pageMarks = (target: Page) => target.evaluate(() => performance.getEntriesByName('crispfold-page').length);

/** Wheel turns over the roll, one a frame; milliseconds of script and paint in each, by the browser's own long view. */
const frames = async (): Promise<{ median: number; worst: number }> => {
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
const editToPage = async (): Promise<number> => {
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

const openFirst = async (name: string | RegExp) => {
  await page.goto(address);
  await page.getByRole('link', { name }).first().click();
  await page.getByTestId('page').locator('svg g.note').first().waitFor({ state: 'attached', timeout: 60_000 });
  await page.waitForTimeout(1500);
};

await openFirst(/Saltmarsh/);
const demoEdit = await editToPage();
/** From switching a step of the plan to its counts, and to the new picture of the page. */
const planToCounts = async (): Promise<{ counts: number; page: number }> => {
  const counts: number[] = [];
  const pages: number[] = [];
  for (let turn = 0; turn < 30; turn += 1) {
    const before = await pageMarks(page);
    const took = await page.evaluate(
      (count) =>
        new Promise<{ counts: number; page: number }>((resolve) => {
          const list = document.querySelector('ol[aria-label="Steps of the plan"]') as HTMLElement;
          const box = list.querySelector('input[aria-label="Gather chords"]') as HTMLInputElement;
          const total = () => [...list.querySelectorAll('span.tabular-nums')].map((span) => span.textContent).join();
          const old = total();
          const began = performance.now();
          let counted = 0;
          box.click();
          const look = () => {
            const now = total();
            if (counted === 0 && now !== old && !now.includes('…')) counted = performance.now() - began;
            const marks = performance.getEntriesByName('crispfold-page');
            if (counted > 0 && marks.length > count) {
              resolve({ counts: counted, page: (marks[marks.length - 1] as PerformanceEntry).startTime - began });
            } else setTimeout(look, 2);
          };
          look();
        }),
      before,
    );
    counts.push(took.counts);
    pages.push(took.page);
    // As a person does: the next change comes after the checks of the last.
    await page.waitForTimeout(1000);
  }
  return { counts: median(counts), page: median(pages) };
};

const twoThousand = path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-made-')), 'made.mid');
writeFileSync(twoThousand, writePlayedMidi(made(2000)));
await page.goto(address);
await page.getByLabel('MIDI files', { exact: true }).setInputFiles(twoThousand);
await page.getByTestId('page').locator('svg g.note').first().waitFor({ state: 'attached', timeout: 60_000 });
await page.waitForTimeout(2000);
const plan = await planToCounts();
await page.goto(address);
await page.getByLabel('MIDI files', { exact: true }).setInputFiles(LARGEST);
await page.getByTestId('page').locator('svg g.note').first().waitFor({ state: 'attached', timeout: 60_000 });
await page.waitForTimeout(3000);
const near = await frames();
const largeEdit = await editToPage();
await page.getByTestId('roll').focus();
await page.keyboard.press('f');
await page.waitForTimeout(1500);
const whole = await frames();
writeFileSync(process.argv[2] ?? 'bench-desk.json', JSON.stringify({ demoEdit, largeEdit, near, whole, plan }));
await browser.close();
server.kill();
