/** The tests that `npm run mutation` asks: those of what it breaks (`CRISPFOLD_BROKEN`, folders), without outside programs. */
import { defineConfig } from 'vitest/config';

const broken = (process.env.CRISPFOLD_BROKEN ?? 'packages').split(',');

export default defineConfig({
  test: {
    include: broken.flatMap((folder) => [`${folder}/**/*.test.ts`, `${folder}/**/*.test.tsx`]),
    exclude: ['**/node_modules/**', 'packages/press/**'],
    setupFiles: [
      './vitest.setup.ts',
      ...(broken.includes('apps/web') ? ['./apps/web/src/desk/controls/setupScreens.ts'] : []),
    ],
    testTimeout: 60_000,
    pool: 'threads',
  },
});
