/**
 * Where journeys take place. Each is written once, in the words of Playwright: it runs in one process without a browser
 * (`npx vitest run journeys`), and the same in a browser (`npx playwright test --project journeys`).
 */
import type * as Playwright from '@playwright/test';
import type { test as inBrowser } from '../e2e/browser.js';
import type { clean as cleanInBrowser } from '../e2e/clean.js';

export type { Locator, Page } from '@playwright/test';
export type { Server } from '../e2e/browser.js';

interface Stage {
  readonly test: typeof inBrowser;
  readonly expect: typeof Playwright.expect;
  readonly clean: typeof cleanInBrowser;
}

const chosen: Stage = process.env.VITEST
  ? ((await import('./inProcess/stage.js')).stage as unknown as Stage)
  : (await import('../e2e/browser.js')).stage;

export const { test, expect, clean } = chosen;
