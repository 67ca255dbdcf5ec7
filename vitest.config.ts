import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const CORE = 'packages/core/**/*.test.ts';

const BUILT_CORE = fileURLToPath(new URL('packages/core/dist/index.js', import.meta.url));

/** Where `npm test` has just built the computation, tests of others, who name it by its package, read it in one piece. */
const builtCore = process.env.CRISPFOLD_BUILT ? [{ find: /^@crispfold\/core$/, replacement: BUILT_CORE }] : [];

export default defineConfig({
  resolve: { alias: builtCore },
  test: {
    server: { deps: { external: [BUILT_CORE] } },
    // A guard against what hangs, not a measure of speed: a busy machine takes several times as long.
    testTimeout: 240_000,
    hookTimeout: 240_000,
    pool: 'forks',
    // One more than the cores of a small machine: some tests only wait.
    maxWorkers: 3,
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
          name: 'server',
          include: ['packages/**/*.test.ts', 'apps/server/**/*.test.ts', 'bin/**/*.test.ts'],
          exclude: ['**/node_modules/**', CORE],
          setupFiles: ['./vitest.setup.ts'],
          isolate: false,
        },
      },
      {
        extends: true,
        // Some of these put other modules in place of some: each file reads its own.
        test: {
          name: 'web',
          include: ['apps/web/**/*.test.ts'],
          setupFiles: ['./vitest.setup.ts'],
        },
      },
      {
        extends: true,
        test: {
          name: 'screens',
          include: ['apps/web/**/*.test.tsx'],
          setupFiles: ['./vitest.setup.ts', './apps/web/src/desk/controls/setupScreens.ts'],
          environment: 'jsdom',
          // Each test draws on a Desk of its own, and clears the screen.
          isolate: false,
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
