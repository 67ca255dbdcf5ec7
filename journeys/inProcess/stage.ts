/** Journeys in this process: a page and a server for each. */
import { test as base, describe, vi } from 'vitest';
import { App } from './app.js';
import { clean } from './clean.js';
import { expect } from './expects.js';
import { Page } from './page.js';

const test = base.extend<{ server: App; page: Page; troubles: string[]; firstVisit: boolean }>({
  firstVisit: [false, { scope: 'test' }],
  // biome-ignore lint/correctness/noEmptyPattern: Vitest wants the pattern
  server: async ({}, use) => {
    const app = await App.open();
    await use(app);
    await app.close();
  },
  page: async ({ server, firstVisit }, use) => {
    const page = new Page(server);
    if (!firstVisit) await page.addInitScript(() => localStorage.setItem('crispfold-tour', 'seen'));
    await use(page);
  },
  troubles: async ({ task: _ }, use) => {
    const troubles: string[] = [];
    const logged = vi.spyOn(console, 'error').mockImplementation((...said) => {
      troubles.push(said.map(String).join(' '));
    });
    const hear = (event: ErrorEvent) => troubles.push(event.message);
    addEventListener('error', hear);
    await use(troubles);
    logged.mockRestore();
    removeEventListener('error', hear);
  },
});

export const stage = { test: Object.assign(test, { describe }), expect, clean };
