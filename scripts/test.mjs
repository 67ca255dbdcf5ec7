// npm test: installs what it needs, then types, lint, import direction, dead code, unit tests and browser tests.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { installPackages, root } from './install.mjs';

/** Debian packages that the tests use: the browser, and readers of our files that others wrote. */
const DEBIAN = [
  ['/usr/bin/chromium', 'chromium'],
  ['/usr/bin/xmllint', 'libxml2-utils'],
  ['/usr/bin/midicsv', 'midicsv'],
  ['/usr/bin/pdftotext', 'poppler-utils'],
  ['/usr/bin/abc2midi', 'abcmidi'],
  ['/usr/share/planetblupi/music', 'planetblupi-music-midi'],
];

/** Installs those that are missing, while npm packages come; answers whether all are there in the end. */
const installDebian = () => {
  const missing = DEBIAN.filter(([file]) => !existsSync(file)).map(([, name]) => name);
  if (missing.length === 0) return Promise.resolve(true);
  if (process.getuid?.() !== 0) {
    console.error(
      `These Debian packages are missing: ${missing.join(' ')}. Install them with apt-get install, then run npm test again.`,
    );
    process.exit(1);
  }
  console.log(`Installing ${missing.join(', ')}…`);
  const install = `apt-get update -qq && apt-get install -y -qq --no-install-recommends ${missing.join(' ')}`;
  const child = spawn('sh', ['-c', install], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  return new Promise((resolve) => child.on('close', (code) => resolve(code === 0)));
};

const reports = path.join(root, 'test-results', 'reports');

/** The names of steps that did not pass: repeated at the end, where a long log is read. */
const stopped = [];
const noted = (name, code) => {
  if (code !== 0) stopped.push(name);
  return code === 0;
};

/** Runs one step; answers whether it passed. */
const step = (name, command, args, env = {}) => {
  console.log(`\n== ${name}`);
  const child = spawn(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
  return new Promise((resolve) => child.on('close', (code) => resolve(noted(name, code))));
};

/** Runs one step beside others, which it leaves in peace; it tells what it said when it ends. Answers whether it passed. */
const beside = (name, command, args) => {
  const child = spawn(command, args, { cwd: root });
  const said = [];
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => said.push(data));
  return new Promise((resolve) => {
    child.on('close', (code) => {
      console.log(`\n== ${name}\n${Buffer.concat(said)}`);
      resolve(noted(name, code));
    });
  });
};

const counts = (file) => {
  if (!existsSync(file)) return { passed: 0, failed: 1, secondTry: 0 };
  const report = JSON.parse(readFileSync(file, 'utf8'));
  return report.stats
    ? { passed: report.stats.expected, failed: report.stats.unexpected, secondTry: report.stats.flaky }
    : { passed: report.numPassedTests, failed: report.numFailedTests, secondTry: 0 };
};

const debian = installDebian();
installPackages();
rmSync(reports, { recursive: true, force: true });
mkdirSync(reports, { recursive: true });
const unit = path.join(reports, 'unit.json');
const browser = path.join(reports, 'browser.json');
const npx = (...args) => ['npx', ['--no-install', ...args]];

const built = await step('Build', 'npm', ['run', '--silent', 'build']);
// What follows need not build again.
process.env.CRISPFOLD_BUILT = 'yes';
// The campaign mostly waits for servers to end.
const campaign = beside('A short part of the reliability campaign', 'node', [
  'scripts/campaign.mjs',
  '--minutes',
  '0.75',
]);
const results = [
  built,
  ...(await Promise.all([
    beside('Types', 'npm', ['run', '--silent', 'typecheck']),
    beside('Lint, import direction, dead code', 'npm', ['run', '--silent', 'lint']),
  ])),
  noted('Debian packages', (await debian) ? 0 : 1),
  await step(
    'Unit tests and journeys',
    ...npx('vitest', 'run', '--reporter=dot', '--reporter=json', `--outputFile.json=${unit}`),
  ),
  await campaign,
  await step('Browser tests', ...npx('playwright', 'test', '--project=e2e', '--output=test-results/browser'), {
    CRISPFOLD_REPORT: browser,
  }),
];

/** The names of tests that failed, and the first line of why: repeated at the end, where a long log is read. */
const failures = (file) => {
  if (!existsSync(file)) return [`${path.basename(file)} was not written`];
  const report = JSON.parse(readFileSync(file, 'utf8'));
  if (report.stats) return failedSpecs(report.suites);
  return report.testResults.flatMap((result) => {
    const failed = result.assertionResults.filter((test) => test.status === 'failed');
    const where = path.relative(root, result.name);
    if (failed.length === 0) return result.status === 'failed' ? [`${where}: ${firstLine(result.message)}`] : [];
    return failed.map((test) => `${where} › ${test.fullName}: ${firstLine(test.failureMessages[0])}`);
  });
};

const firstLine = (text) => (text ?? '').split('\n', 1)[0];

const failedSpecs = (suites = []) =>
  suites.flatMap((suite) => [
    ...(suite.specs ?? []).filter((spec) => !spec.ok).map((spec) => `${spec.file}:${spec.line} › ${spec.title}`),
    ...failedSpecs(suite.suites),
  ]);

const total = [counts(unit), counts(browser)].reduce((a, b) => ({
  passed: a.passed + b.passed,
  failed: a.failed + b.failed,
  secondTry: a.secondTry + b.secondTry,
}));
for (const name of stopped) console.log(`did not pass: ${name}`);
for (const line of [...failures(unit), ...failures(browser)]) console.log(`failed: ${line}`);
const atSecondTry = total.secondTry > 0 ? `, ${total.secondTry} at the second try only` : '';
console.log(`\n${total.passed} passed, ${total.failed} failed${atSecondTry}`);
process.exit(results.every(Boolean) && total.failed === 0 ? 0 : 1);
