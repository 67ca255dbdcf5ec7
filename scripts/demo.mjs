// npm run demo: installs, builds, prepares the database with the demo, and serves it. Nothing else is needed.
import { spawn } from 'node:child_process';
import { installPackages, root, run } from './install.mjs';

installPackages();
console.log('Building…');
run('npm', ['run', '--silent', 'build']);
const server = spawn(process.execPath, ['apps/server/dist/main.js'], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, CRISPFOLD_DEMO: 'yes' },
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
