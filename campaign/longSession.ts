/** Two thousand changes in one tab: what server and tab take after five hundred, a thousand, and all of them. */

import { demoMidi } from '@crispfold/core';
import { type CDPSession, chromium } from '@playwright/test';
import { asForm, type Tally, Tried } from './server.js';

const LOOKED_AT = [500, 1000, 2000] as const;
/** Changes are made so many at a time, and saved before the next. */
const AT_ONCE = 25;
/** After the first five hundred it grows by no more than this. */
const MOST_GROWTH = 1.1;

/** What the tab's own objects take once nothing is left over, in megabytes. */
const tabMegabytes = async (cdp: CDPSession): Promise<number> => {
  await cdp.send('HeapProfiler.enable');
  for (let round = 0; round < 3; round += 1) await cdp.send('HeapProfiler.collectGarbage');
  const { metrics } = await cdp.send('Performance.getMetrics');
  return (metrics.find(({ name }) => name === 'JSHeapUsedSize')?.value ?? 0) / 1024 / 1024;
};

export const longSession = async (): Promise<Tally> => {
  const problems: string[] = [];
  const server = new Tried();
  await server.start();
  const id = ((await server.ask('/api/arrangements', asForm(['a.mid', demoMidi()]))).body as { open: { id: string } })
    .open.id;
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(() => localStorage.setItem('crispfold-tour', 'seen'));
  await page.goto(new URL(`/desk/${id}`, server.address).href);
  const roll = page.locator('#roll');
  await roll.waitFor();
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable');
  await roll.focus();
  await page.keyboard.press('.');
  const tab: number[] = [];
  const served: number[] = [];
  let made = 0;
  for (const count of LOOKED_AT) {
    while (made < count) {
      for (let at = 0; at < AT_ONCE; at += 1)
        await page.keyboard.press((made + at) % 2 === 0 ? 'ArrowUp' : 'ArrowDown');
      made += AT_ONCE;
      await page
        .locator('header [role="status"]')
        .first()
        .filter({ hasText: /^Saved$/ })
        .waitFor();
    }
    await page.waitForTimeout(3000);
    tab.push(await tabMegabytes(cdp));
    served.push(await server.megabytes());
  }
  const { revision } = (await server.ask(`/api/arrangements/${id}`)).body as { revision: number };
  if (revision !== made) problems.push(`${made} changes were made, ${revision} are there`);
  for (const [name, sizes] of [
    ['tab', tab],
    ['server', served],
  ] as const) {
    const growth = (sizes[2] ?? 0) / (sizes[0] ?? 1);
    if (growth > MOST_GROWTH) problems.push(`the ${name} grew to ${growth.toFixed(2)} times`);
  }
  await browser.close();
  await server.end();
  const inWords = (sizes: readonly number[]) => sizes.map((size) => size.toFixed(0)).join(' / ');
  return {
    changes: made,
    tabMegabytesAt500And1000And2000: inWords(tab),
    serverMegabytesAt500And1000And2000: inWords(served),
    problems,
  };
};
