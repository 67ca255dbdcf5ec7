/** Times the table with a hundred thousand notes: from the key to its rows, frames while it scrolls, from a word to fewer rows. */
import { writeFileSync } from 'node:fs';
import { dropToPage, end, fileOf, median, page, untilReady } from './browser.js';
import { made } from './made.js';

const NOTES = 100_000;
await dropToPage(fileOf(made(NOTES), 'Table'));
await untilReady();

/** Milliseconds from a key on the focused element until the screen says so. */
const fromKey = (key: string, shift: boolean, target: string, until: string): Promise<number> =>
  page.evaluate(
    ([pressed, shifted, focus, sign]) =>
      new Promise<number>((resolve) => {
        (document.querySelector(focus as string) as HTMLElement).focus();
        const began = performance.now();
        const init = {
          key: pressed as string,
          code: `Key${(pressed as string).toUpperCase()}`,
          shiftKey: shifted === 'yes',
          bubbles: true,
        };
        document.activeElement?.dispatchEvent(new KeyboardEvent('keydown', init));
        document.activeElement?.dispatchEvent(new KeyboardEvent('keyup', init));
        const look = () => {
          if (document.querySelector(sign as string)) requestAnimationFrame(() => resolve(performance.now() - began));
          else setTimeout(look, 2);
        };
        look();
      }),
    [key, shift ? 'yes' : '', target, until],
  );
const opened: number[] = [];
for (let turn = 0; turn < 6; turn += 1) {
  opened.push(await fromKey('T', true, '#roll', '[role="grid"] [aria-rowindex="3"]'));
  await page.waitForTimeout(1500);
  if (turn < 5) {
    await page.locator('[role="grid"]').press('Escape');
    await page.locator('#roll').waitFor();
    await page.waitForTimeout(1500);
  }
}
/** Milliseconds of frames while the table scrolls. */
const frames = await page.evaluate(
  () =>
    new Promise<number[]>((resolve) => {
      const box = document.querySelector('[role="grid"]') as HTMLElement;
      const took: number[] = [];
      let last = performance.now();
      const turn = (now: number) => {
        took.push(now - last);
        last = now;
        box.scrollTop += 900;
        if (took.length < 90) requestAnimationFrame(turn);
        else resolve(took.slice(5));
      };
      requestAnimationFrame(turn);
    }),
);
/** From a word in the field to its rows. */
const narrowed: number[] = [];
for (const word of ['c5', 'd4', 'g3', 'e5', 'a4']) {
  narrowed.push(
    await page.evaluate(
      (text) =>
        new Promise<number>((resolve) => {
          const field = document.querySelector('input[aria-label="Words"]') as HTMLInputElement;
          const status = document.querySelector('[aria-label="Table"] [role="status"]') as HTMLElement;
          const before = status.textContent;
          const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
          const began = performance.now();
          set?.call(field, text);
          field.dispatchEvent(new Event('input', { bubbles: true }));
          const look = () => {
            if (status.textContent !== before) requestAnimationFrame(() => resolve(performance.now() - began));
            else setTimeout(look, 2);
          };
          look();
        }),
      word,
    ),
  );
  await page.waitForTimeout(500);
}
const result = {
  rows: NOTES,
  opened: median(opened.slice(1)),
  frame: median(frames),
  worst: Math.max(...frames),
  narrowed: median(narrowed),
};
console.log(result);
writeFileSync(process.argv[2] ?? 'bench-table.json', JSON.stringify(result));
await end();
