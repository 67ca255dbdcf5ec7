// npm run mutation [-- SEED [COUNT [ROOM,ROOM]]]: breaks the code in a seeded sample of places, one at a time, and counts which breaks
// the tests notice. Not part of npm test. Writes test-results/mutation.json; docs/testing.md tells of the last run.
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Stryker } from '@stryker-mutator/core';
import { createInstrumenter } from '@stryker-mutator/instrumenter';
import { installPackages, root } from './install.mjs';

/** What is broken: rooms of the computation but for its made scores, the screens, and the server. */
const CORE = ['steps', 'notation', 'midi', 'plan', 'model', 'edits', 'findings'];
const APPS = ['web', 'server'];
/** A break that holds others is drawn only where there are so few of them. */
const MOST_WITHIN = 3;

installPackages();
// Properties are tried on fewer cases than in npm test: each break runs them again.
process.env.CRISPFOLD_CASES ??= '0.2';
const seed = Number(process.argv[2] ?? 1);
const wanted = Number(process.argv[3] ?? 400);
/** Some of the rooms, by name, or all. */
const rooms = process.argv[4]?.split(',') ?? [...CORE, ...APPS];
// The tests of what is broken are asked, and no others.
process.env.CRISPFOLD_BROKEN = [
  ...(CORE.some((room) => rooms.includes(room)) ? ['packages'] : []),
  ...APPS.filter((app) => rooms.includes(app)).map((app) => `apps/${app}`),
].join();

const sourcesIn = (folder) =>
  readdirSync(path.join(root, folder), { recursive: true, encoding: 'utf8' })
    .filter((name) => /\.tsx?$/.test(name) && !/\.test\.|\.d\.ts$|ForTests\.|(^|\/)testing\//.test(name))
    .map((name) => `${folder}/${name}`);
const files = [
  ...CORE.filter((room) => rooms.includes(room)).map((room) => `packages/core/src/${room}`),
  ...APPS.filter((app) => rooms.includes(app)).map((app) => `apps/${app}/src`),
].flatMap(sourcesIn);

const quiet = {
  isTraceEnabled: () => false,
  isDebugEnabled: () => false,
  trace() {},
  debug() {},
  info() {},
  warn() {},
};
const injector = {
  provideValue: () => injector,
  provideClass: () => injector,
  provideFactory: () => injector,
  injectClass: (Class) => new Class(quiet),
  resolve: () => quiet,
};
const instrumenter = createInstrumenter(injector);
const { mutants } = await instrumenter.instrument(
  files.map((file) => ({ name: file, mutate: true, content: readFileSync(path.join(root, file), 'utf8') })),
  { plugins: null, excludedMutations: ['StringLiteral'], ignorers: [] },
);

const within = (a, b) =>
  a.fileName === b.fileName &&
  (a.location.start.line > b.location.start.line ||
    (a.location.start.line === b.location.start.line && a.location.start.column >= b.location.start.column)) &&
  (a.location.end.line < b.location.end.line ||
    (a.location.end.line === b.location.end.line && a.location.end.column <= b.location.end.column));

/** Mulberry32: the same sample for the same seed. */
let state = seed >>> 0;
const next = () => {
  state = (state + 0x6d2b79f5) >>> 0;
  let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
  mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
  return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
};
const live = mutants.filter((mutant) => mutant.status !== 'Ignored' && !mutant.ignoreReason);
const byFile = new Map();
for (const mutant of live) byFile.set(mutant.fileName, [...(byFile.get(mutant.fileName) ?? []), mutant]);
const drawn = live.map((mutant) => ({ mutant, at: next() })).sort((a, b) => a.at - b.at);
const ranges = [];
let count = 0;
for (const { mutant } of drawn) {
  if (count >= wanted) break;
  const inside = byFile.get(mutant.fileName).filter((other) => within(other, mutant)).length;
  if (inside > MOST_WITHIN) continue;
  count += inside;
  const { start, end } = mutant.location;
  ranges.push(`${mutant.fileName}:${start.line + 1}:${start.column}-${end.line + 1}:${end.column}`);
}
console.log(`${live.length} breaks could be made; ${count} of them are, drawn with seed ${seed}.`);

mkdirSync(path.join(root, 'test-results'), { recursive: true });
const stryker = new Stryker({
  mutate: ranges,
  testRunner: 'vitest',
  vitest: { configFile: 'vitest.mutation.config.ts' },
  plugins: ['@stryker-mutator/vitest-runner'],
  mutator: { excludedMutations: ['StringLiteral'] },
  ignoreStatic: true,
  coverageAnalysis: 'perTest',
  concurrency: 2,
  timeoutMS: 20_000,
  // The first run has every test watched, on whatever else the machine does.
  dryRunTimeoutMinutes: 20,
  reporters: ['json', 'progress-append-only'],
  jsonReporter: { fileName: 'test-results/mutation.json' },
  tempDirName: 'test-results/mutation',
  ignorePatterns: ['/docs/screenshots', '/data', '/test-results', '/e2e', '/bench'],
  checkers: [],
  disableTypeChecks: false,
});
const results = await stryker.runMutationTest();
const of = (...statuses) => results.filter(({ status }) => statuses.includes(status));
const noticed = of('Killed', 'Timeout').length;
const lost = of('Survived', 'NoCoverage');
writeFileSync(
  path.join(root, 'test-results', `mutation-survivors-${rooms.join('-')}.txt`),
  lost
    .map(({ fileName, location, mutatorName, replacement, status }) => {
      const file = path.relative(root, fileName);
      return `${file}:${location.start.line + 1}:${location.start.column} ${mutatorName} → ${(replacement ?? '').slice(0, 90).replaceAll('\n', ' ')} (${status})`;
    })
    .sort()
    .join('\n'),
);
console.log(
  `${noticed} of ${noticed + lost.length} noticed: ${((noticed * 100) / (noticed + lost.length)).toFixed(1)} %`,
);
console.log(`${of('Ignored').length} left out as static, ${of('CompileError', 'RuntimeError').length} that do not run`);
