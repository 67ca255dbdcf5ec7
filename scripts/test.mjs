// npm test: installs what it needs, then types, lint, import direction, dead code, unit tests and browser tests.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { installPackages, root, run } from './install.mjs';

/** Debian packages that the tests use: the browser, and readers of our files that others wrote. */
const DEBIAN = [
  ['/usr/bin/chromium', 'chromium'],
  ['/usr/bin/xmllint', 'libxml2-utils'],
  ['/usr/bin/midicsv', 'midicsv'],
  ['/usr/bin/pdftotext', 'poppler-utils'],
  ['/usr/bin/abc2midi', 'abcmidi'],
  ['/usr/share/planetblupi/music', 'planetblupi-music-midi'],
];

const installDebian = () => {
  const missing = DEBIAN.filter(([file]) => !existsSync(file)).map(([, name]) => name);
  if (missing.length === 0) return;
  if (process.getuid?.() !== 0) {
    console.error(
      `These Debian packages are missing: ${missing.join(' ')}. Install them with apt-get install, then run npm test again.`,
    );
    process.exit(1);
  }
  console.log(`Installing ${missing.join(', ')}…`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['update', '-qq'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing], {
    env,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
};

const reports = path.join(root, 'test-results', 'reports');

/** Runs one step; answers whether it passed. */
const step = (name, command, args, env = {}) => {
  console.log(`\n== ${name}`);
  return spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } }).status === 0;
};

const counts = (file) => {
  if (!existsSync(file)) return { passed: 0, failed: 1, secondTry: 0 };
  const report = JSON.parse(readFileSync(file, 'utf8'));
  return report.stats
    ? { passed: report.stats.expected, failed: report.stats.unexpected, secondTry: report.stats.flaky }
    : { passed: report.numPassedTests, failed: report.numFailedTests, secondTry: 0 };
};

installPackages();
installDebian();
rmSync(reports, { recursive: true, force: true });
mkdirSync(reports, { recursive: true });
const unit = path.join(reports, 'unit.json');
const browser = path.join(reports, 'browser.json');
const npx = (...args) => ['npx', ['--no-install', ...args]];

const results = [
  step('Build', 'npm', ['run', '--silent', 'build']),
  step('Types', 'npm', ['run', '--silent', 'typecheck']),
  step('Lint, import direction, dead code', 'npm', ['run', '--silent', 'lint']),
  step('Unit tests', ...npx('vitest', 'run', '--reporter=dot', '--reporter=json', `--outputFile.json=${unit}`)),
  step('A short part of the reliability campaign', 'node', ['scripts/campaign.mjs', '--minutes', '1.5']),
  step('Browser tests', ...npx('playwright', 'test', '--output=test-results/browser'), { CRISPFOLD_REPORT: browser }),
];
const total = [counts(unit), counts(browser)].reduce((a, b) => ({
  passed: a.passed + b.passed,
  failed: a.failed + b.failed,
  secondTry: a.secondTry + b.secondTry,
}));
const atSecondTry = total.secondTry > 0 ? `, ${total.secondTry} at the second try only` : '';
console.log(`\n${total.passed} passed, ${total.failed} failed${atSecondTry}`);
process.exit(results.every(Boolean) && total.failed === 0 ? 0 : 1);
