import { defineConfig } from '@playwright/test';

export default defineConfig({
  // What needs a browser; and the journeys, which need none, asked for by name: `npx playwright test --project journeys`.
  projects: [
    { name: 'e2e', testDir: 'e2e' },
    { name: 'journeys', testDir: 'journeys' },
  ],
  outputDir: 'test-results',
  timeout: 60_000,
  // The checks of an arrangement that was just opened take seconds where two browsers share a small machine.
  expect: { timeout: 10_000 },
  globalSetup: './e2e/prepare.ts',
  fullyParallel: true,
  workers: 2,
  // A browser on a busy machine: what passes at the second try alone is told by name, and counted apart.
  retries: 1,
  reporter: process.env.CRISPFOLD_REPORT ? [['list'], ['json', { outputFile: process.env.CRISPFOLD_REPORT }]] : 'list',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--disable-background-networking',
        '--autoplay-policy=no-user-gesture-required',
        // Each test opens the application anew: to have its code compiled once more, and well, costs more than it brings.
        '--js-flags=--liftoff-only --no-turbofan',
      ],
    },
    screenshot: 'only-on-failure',
  },
});
