import { defineConfig } from 'vitest/config';

const CORE = 'packages/core/**/*.test.ts';

export default defineConfig({
  test: {
    // A guard against what hangs, not a measure of speed: a busy machine takes several times as long.
    testTimeout: 240_000,
    hookTimeout: 240_000,
    pool: 'forks',
    maxWorkers: 2,
    projects: [
      {
        extends: true,
        test: {
          name: 'core',
          include: [CORE],
          setupFiles: ['./vitest.setup.ts', './packages/core/src/testing/setup.ts'],
          // Computation alone, which keeps nothing but what was worked out before: read and compiled once, not for each file.
          isolate: false,
        },
      },
      {
        extends: true,
        test: {
          name: 'others',
          include: ['packages/**/*.test.ts', 'apps/**/*.test.ts', 'apps/**/*.test.tsx', 'bin/**/*.test.ts'],
          exclude: ['**/node_modules/**', CORE],
          setupFiles: ['./vitest.setup.ts'],
        },
      },
      {
        extends: true,
        // The application as it is shipped, without what helps while it is written: half the time.
        oxc: { jsx: { development: false } },
        test: {
          name: 'journeys',
          env: { NODE_ENV: 'production' },
          include: ['journeys/**/*.test.ts'],
          environment: 'jsdom',
          // One process opens the application many times, as a person does: its code is read once.
          isolate: false,
          expect: { poll: { timeout: 15_000 } },
          setupFiles: ['./vitest.setup.ts', './journeys/inProcess/setup.ts'],
        },
      },
    ],
  },
});
