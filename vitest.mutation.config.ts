/** The tests that `npm run mutation` asks: those of the computation and of the Desk's store, without outside programs. */
import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: [
      'packages/core/src/**/*.test.ts',
      'packages/contract/src/*.test.ts',
      'apps/web/src/**/*.test.ts',
    ],
    testTimeout: 60_000,
    pool: 'threads',
  },
});
