import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['packages/**/*.test.ts', 'apps/**/*.test.ts', 'apps/**/*.test.tsx', 'bin/**/*.test.ts'],
    setupFiles: ['./vitest.setup.ts'],
    // A guard against what hangs, not a measure of speed: a busy machine takes several times as long.
    testTimeout: 240_000,
    hookTimeout: 240_000,
    pool: 'forks',
    maxWorkers: 2,
  },
});
