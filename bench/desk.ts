/** Times the Desk in the browser: frames of the roll with a large file, and from an edit to the new page. */
import { writeFileSync } from 'node:fs';
import { address, editToPage, end, fileOf, frames, median, openFirst, page, pageMarks } from './browser.js';
import { made } from './made.js';

const LARGEST = '/usr/share/planetblupi/music/music009.mid';

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

const twoThousand = fileOf(made(2000), 'made');
await page.goto(address);
await page.getByLabel('MIDI files', { exact: true }).setInputFiles(twoThousand);
await page
  .locator('[aria-label="Engraved bars"]')
  .locator('svg g.note')
  .first()
  .waitFor({ state: 'attached', timeout: 60_000 });
await page.waitForTimeout(2000);
const plan = await planToCounts();
await page.goto(address);
await page.getByLabel('MIDI files', { exact: true }).setInputFiles(LARGEST);
await page
  .locator('[aria-label="Engraved bars"]')
  .locator('svg g.note')
  .first()
  .waitFor({ state: 'attached', timeout: 60_000 });
await page.waitForTimeout(3000);
const near = await frames();
const largeEdit = await editToPage();
await page.locator('#roll').focus();
await page.keyboard.press('0');
await page.waitForTimeout(1500);
const whole = await frames();
writeFileSync(process.argv[2] ?? 'bench-desk.json', JSON.stringify({ demoEdit, largeEdit, near, whole, plan }));
await end();
