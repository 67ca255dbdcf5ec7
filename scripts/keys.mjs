// npm run keys: writes docs/keys.md from the table of commands.
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { build } from 'esbuild';
import { root } from './install.mjs';

const folder = path.join(root, 'node_modules', '.cache', 'keys');
mkdirSync(folder, { recursive: true });
const outfile = path.join(folder, 'keyGuide.mjs');
await build({
  entryPoints: [path.join(root, 'apps/web/src/desk/shell/keyGuide.ts')],
  bundle: true,
  platform: 'node',
  format: 'esm',
  packages: 'external',
  alias: {
    '@crispfold/core': path.join(root, 'packages/core/src/index.ts'),
    '@crispfold/contract': path.join(root, 'packages/contract/src/index.ts'),
  },
  outfile,
  logLevel: 'warning',
});
const { keyGuide } = await import(outfile);
writeFileSync(path.join(root, 'docs', 'keys.md'), keyGuide());
console.log('Wrote docs/keys.md');
