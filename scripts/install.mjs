// What the other scripts share: installing npm packages once, running commands.
import { spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/** The repository's folder. */
export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a command with its output on screen; ends this process where it fails. */
export const run = (command, args, options = {}) => {
  const { status, error } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (error) console.error(error.message);
  if (status !== 0) process.exit(status ?? 1);
};

/** Installs the packages where they are missing or older than the lock file. */
export const installPackages = () => {
  const lock = path.join(root, 'package-lock.json');
  const installed = path.join(root, 'node_modules', '.package-lock.json');
  if (existsSync(installed) && statSync(installed).mtimeMs >= statSync(lock).mtimeMs) return;
  console.log('Installing packages…');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
};
