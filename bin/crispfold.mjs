#!/usr/bin/env node
// The command line: a thin door to packages/core. Exit 0; 2 for wrong usage; 1 for input that cannot be read.
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { planFromFile, sentencesFromFile } from '../packages/contract/dist/index.js';
import {
  applyEdit,
  checkOf,
  EXPORT_KINDS,
  findBeats,
  followBeats,
  GRIDS,
  importMidi,
  LARGEST_UPLOAD,
  lineInWords,
  NOTHING,
  planOf,
  prepareExport,
  problemsOf,
  runSentence,
  stemOf,
  summarise,
  tempoMisfit,
  withGrid,
} from '../packages/core/dist/index.js';

const USAGE = `Usage:
  crispfold inspect FILE... [--json]
  crispfold tidy FILE... --out DIR [--grid ${GRIDS.map((grid) => grid.id).join('|')}]
                 [--plan FILE.json] [--each] [--tempo auto|from-take|file]
                 [--write ${[...Object.keys(EXPORT_KINDS), 'pdf', 'parts'].join(',')}]
  crispfold change FILE... --sentences FILE.json --out DIR
                 [--write ${Object.keys(EXPORT_KINDS).join(',')}]
  crispfold backup [DATABASE.sqlite] --out FILE.sqlite
  crispfold rescue DATABASE.sqlite --out DIR
`;

class UsageError extends Error {}
class InputError extends Error {}

/** Reads the files and makes one arrangement of them. */
const arrange = async (names) => {
  const files = [];
  for (const name of names) {
    const info = await stat(name).catch(() => null);
    if (!info?.isFile()) throw new InputError(`${name}: there is no such file.`);
    if (info.size > LARGEST_UPLOAD) throw new InputError(`${name}: the file is larger than 20 MB.`);
    files.push({ name: path.basename(name), bytes: new Uint8Array(await readFile(name)) });
  }
  const result = importMidi(files);
  if (!result.ok) throw new InputError(result.problem.message);
  return result.value;
};

/** Counts of findings after a part's line. */
const inWords = (findings) => {
  const counts = Object.entries(findings).map(([kind, count]) => `${checkOf(kind).name.toLowerCase()} ${count}`);
  return counts.length > 0 ? `; ${counts.join(', ')}` : '';
};

const printSummary = (summary) => {
  const lines = [
    `${summary.title}: ${summary.bars} bars, ${summary.seconds.toFixed(1)} s, ${summary.ppq} PPQ`,
    ...summary.parts.map(
      (part) =>
        `  ${part.name}: ${part.notes} notes, channel ${part.channel}, pitches ${part.lowest} to ${part.highest}${inWords(part.findings)}`,
    ),
    ...summary.warnings.map((warning) => `  Warning: ${warning}`),
  ];
  process.stdout.write(`${lines.join('\n')}\n`);
};

const inspect = async (args) => {
  const { values, positionals } = parse(args, { json: { type: 'boolean' } });
  if (positionals.length === 0) throw new UsageError('inspect needs at least one file.');
  const summary = summarise(await arrange(positionals));
  if (values.json) process.stdout.write(`${JSON.stringify(summary, null, 2)}\n`);
  else printSummary(summary);
};

const tidy = async (args) => {
  const { values, positionals } = parse(args, {
    out: { type: 'string' },
    grid: { type: 'string' },
    plan: { type: 'string' },
    each: { type: 'boolean' },
    tempo: { type: 'string', default: 'auto' },
    write: { type: 'string', default: 'musicxml' },
  });
  if (positionals.length === 0) throw new UsageError('tidy needs at least one file.');
  if (!values.out) throw new UsageError('tidy needs --out DIR.');
  const grid = GRIDS.find((candidate) => candidate.id === values.grid);
  if (values.grid !== undefined && !grid)
    throw new UsageError(`--grid is one of ${GRIDS.map((candidate) => candidate.id).join(', ')}.`);
  if (!TEMPO_FROM.includes(values.tempo)) throw new UsageError(`--tempo is one of ${TEMPO_FROM.join(', ')}.`);
  const { kinds, pressed } = kindsOf(values.write, PRESSED);
  const own = values.plan === undefined ? undefined : await readPlan(values.plan);
  const planned = (part) => {
    const plan = own ?? planOf(part);
    return grid ? withGrid(plan, grid.grid) : plan;
  };
  /** Tidies one arrangement, and writes it under a name; answers it. */
  const tidied = async (read, stem) => {
    const { arrangement, before } = atTempo(read.arrangement, values.tempo);
    for (const words of before) process.stderr.write(`crispfold: warning: ${words}\n`);
    const parts = arrangement.parts.map((part) => ({ ...part, plan: planned(part) }));
    const write = prepareExport({ ...arrangement, parts }, { before });
    const made = kinds.map((kind) => ({ ending: EXPORT_KINDS[kind].ending, bytes: write(kind) }));
    for (const what of pressed) made.push(...(await pagesOf({ ...arrangement, parts }, what)));
    await writeAll(values.out, stem, made);
  };
  if (values.each) return tidyEach(positionals, tidied);
  const read = await arrange(positionals);
  for (const warning of read.warnings) process.stderr.write(`crispfold: warning: ${warning.message}\n`);
  return tidied(read, stemOf(positionals[0]));
};

/** Where the tempo of the page comes from. */
const TEMPO_FROM = ['auto', 'from-take', 'file'];

/** The arrangement, with the tempo of the take where that is wanted, and what was done in words. */
const atTempo = (arrangement, from) => {
  if (from === 'file') return { arrangement, before: [] };
  const found = from === 'from-take' ? findBeats(arrangement) : tempoMisfit(arrangement)?.found;
  if (!found) {
    const none = 'No beat was found in the take; the tempo of the file stays.';
    return { arrangement, before: from === 'from-take' ? [none] : [] };
  }
  const { times } = found;
  const tempo = Math.round((60 * (times.length - 1)) / (times[times.length - 1] - times[0]));
  const why = from === 'auto' ? 'The tempo of the file does not fit. ' : '';
  const words = `${why}The tempo is taken from the take: ${times.length} beats, about ${tempo} a minute. --tempo file keeps that of the file.`;
  return { arrangement: applyEdit(arrangement, followBeats(arrangement, found)), before: [words] };
};

const counted = (count, what) => `${count} ${what}${count === 1 ? '' : 's'}`;

/** The files named, and those MIDI files and scores that lie in folders named. */
const filesIn = async (names) => {
  const files = [];
  for (const name of names) {
    const info = await stat(name).catch(() => null);
    if (!info?.isDirectory()) files.push(name);
    else {
      const inside = (await readdir(name)).filter((file) => /\.(midi?|musicxml|mxl)$/i.test(file)).sort();
      files.push(...inside.map((file) => path.join(name, file)));
    }
  }
  return files;
};

/** One arrangement of each file, with a line for each; a file that cannot be read stops no other. */
const tidyEach = async (names, tidied) => {
  const taken = new Set();
  /** Takes of one name from several folders are told apart. */
  const stemFor = (name) => {
    const stem = stemOf(name);
    let own = stem;
    for (let number = 2; taken.has(own.toLowerCase()); number += 1) own = `${stem} (${number})`;
    taken.add(own.toLowerCase());
    return own;
  };
  const files = await filesIn(names);
  let failed = 0;
  for (const name of files) {
    try {
      const read = await arrange([name]);
      const stem = stemFor(name);
      await tidied(read, stem);
      const { parts } = read.arrangement;
      const notes = parts.reduce((sum, part) => sum + part.notes.length, 0);
      const warned = read.warnings.length > 0 ? `, ${counted(read.warnings.length, 'warning')}` : '';
      process.stdout.write(`${name}: ${stem}, ${counted(parts.length, 'part')}, ${counted(notes, 'note')}${warned}\n`);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      failed += 1;
      process.stdout.write(`${name}: not read. ${error.message}\n`);
    }
  }
  process.stdout.write(`${counted(files.length, 'file')}: ${files.length - failed} tidied, ${failed} not read.\n`);
  if (files.length === 0) throw new InputError('There is no MIDI file among those named.');
  if (failed > 0) throw new InputError(`${counted(failed, 'file')} could not be read.`);
};

/** PDF files by the word of --write. */
const PRESSED = { pdf: 'score', parts: 'parts' };

/** The PDF of the score, or one of each part; the engraver is loaded when first needed. */
const pagesOf = async (arrangement, what) => {
  const { pressFiles } = await import('../packages/press/dist/index.js');
  const files = await pressFiles(arrangement, { what: PRESSED[what] });
  const taken = new Set();
  return files.map(({ part, bytes }, index) => {
    const name = (what === 'pdf' ? 'score' : part).replace(/[^\p{L}\p{N} ._()'-]/gu, '-').slice(0, 80);
    const own = taken.has(name.toLowerCase()) ? `${name} ${index + 1}` : name;
    taken.add(own.toLowerCase());
    return { ending: `.${own}.pdf`, bytes };
  });
};

/** The kinds of files that --write names, and those of `more`. */
const kindsOf = (write, more = {}) => {
  const named = write.split(',').map((kind) => kind.trim());
  for (const kind of named)
    if (!Object.hasOwn(EXPORT_KINDS, kind) && !Object.hasOwn(more, kind))
      throw new UsageError(`--write does not know "${kind}".`);
  const pressed = named.filter((kind) => Object.hasOwn(more, kind));
  return { kinds: named.filter((kind) => !pressed.includes(kind)), pressed };
};

/** Carries sentences out on all parts, in the order of their file, and tells what each line touched. */
const change = async (args) => {
  const { values, positionals } = parse(args, {
    out: { type: 'string' },
    sentences: { type: 'string' },
    write: { type: 'string', default: 'midi-played' },
  });
  if (positionals.length === 0) throw new UsageError('change needs at least one file.');
  if (!values.sentences) throw new UsageError('change needs --sentences FILE.json.');
  if (!values.out) throw new UsageError('change needs --out DIR.');
  const { kinds } = kindsOf(values.write);
  const read = sentencesFromFile(await textOf(values.sentences));
  if (!read.ok) throw new InputError(`${values.sentences}: ${read.message}`);
  let { arrangement, warnings } = await arrange(positionals);
  for (const warning of warnings) process.stderr.write(`crispfold: warning: ${warning.message}\n`);
  let selection = NOTHING;
  for (const sentence of read.sentences) {
    const problems = problemsOf(
      sentence,
      arrangement.parts.map((part) => part.name),
    );
    const run = runSentence(
      { arrangement, reach: arrangement.parts.map((part) => part.id), selection, onlyShown: null },
      sentence,
    );
    process.stdout.write(`${sentence.name}\n`);
    run.lines.forEach((line, index) => {
      const counts = line.parts.map(({ name, count }) => `${count} in ${name}`).join(', ');
      process.stdout.write(`  ${lineInWords(sentence.lines[index])}\n    ${counts || 'no note'}\n`);
      for (const words of [...problems[index], ...line.notices]) process.stdout.write(`    ${words}\n`);
    });
    if (run.edit) arrangement = applyEdit(arrangement, run.edit);
    selection = run.selection ?? selection;
  }
  const write = prepareExport(arrangement);
  const made = kinds.map((kind) => ({ ending: EXPORT_KINDS[kind].ending, bytes: write(kind) }));
  await writeAll(values.out, stemOf(positionals[0]), made);
};

/** The text of a file. */
const textOf = async (name) => {
  const text = await readFile(name, 'utf8').catch(() => null);
  if (text === null) throw new InputError(`${name}: there is no such file.`);
  return text;
};

/** A plan for all parts from a file. */
const readPlan = async (name) => {
  const read = planFromFile(await textOf(name));
  if (!read.ok) throw new InputError(`${name}: ${read.message}`);
  return read.plan;
};

/** All files or none: each is written beside its place and moved there once all of them are whole. */
const writeAll = async (folder, stem, made) => {
  const pending = made.map(({ ending, bytes }) => {
    const target = path.join(folder, stem + ending);
    return { target, partial: `${target}.partial`, bytes };
  });
  try {
    await mkdir(folder, { recursive: true });
    for (const { partial, bytes } of pending) await writeFile(partial, bytes);
    for (const { partial, target } of pending) await rename(partial, target);
  } catch (error) {
    for (const { partial } of pending) await rm(partial, { force: true });
    throw new InputError(`${folder}: the files could not be written (${error.code ?? error.message}).`);
  }
};

const parse = (args, options) => {
  try {
    return parseArgs({ args, options, allowPositionals: true });
  } catch (error) {
    throw new UsageError(error.message);
  }
};

/** The database of the server that runs from here. */
const OWN_DATABASE = path.resolve(import.meta.dirname, '../data/crispfold.sqlite');

const needDatabase = async (name) => {
  const info = await stat(name).catch(() => null);
  if (!info?.isFile()) throw new InputError(`${name}: there is no such database.`);
};

/** One consistent file of the whole library, also while a server uses it. */
const backup = async (args) => {
  const { values, positionals } = parse(args, { out: { type: 'string' } });
  if (!values.out) throw new UsageError('backup needs --out FILE.sqlite.');
  const from = positionals[0] ?? OWN_DATABASE;
  await needDatabase(from);
  const { copyDatabase } = await import('../apps/server/dist/tools.js');
  await copyDatabase(from, values.out).catch((error) => {
    throw new InputError(`${values.out}: the backup could not be written (${error.message}).`);
  });
  process.stdout.write(`Wrote ${values.out}.\n`);
};

/** What can be read of a damaged database, as MIDI files. */
const rescue = async (args) => {
  const { values, positionals } = parse(args, { out: { type: 'string' } });
  if (positionals.length !== 1) throw new UsageError('rescue needs a database.');
  if (!values.out) throw new UsageError('rescue needs --out DIR.');
  await needDatabase(positionals[0]);
  const tools = await import('../apps/server/dist/tools.js');
  const { files, earlier, lost } = await tools.rescue(positionals[0], values.out).catch((error) => {
    throw new InputError(`${positionals[0]}: nothing of it can be read (${error.message}).`);
  });
  const lines = [
    ...files.map((name) => `  ${name}`),
    ...earlier.map((title) => `  Of ${title} only an earlier state could be read.`),
    ...lost.map((title) => `  Nothing of ${title} could be read.`),
  ];
  process.stdout.write(`${files.length} of ${files.length + lost.length} arrangements rescued.\n${lines.join('\n')}\n`);
};

const COMMANDS = { inspect, tidy, change, backup, rescue };

const main = async ([command, ...args]) => {
  if (command === '--help' || command === '-h') {
    process.stdout.write(USAGE);
    return 0;
  }
  try {
    if (!command || !Object.hasOwn(COMMANDS, command))
      throw new UsageError(command ? `There is no command "${command}".` : 'Name a command.');
    await COMMANDS[command](args);
    return 0;
  } catch (error) {
    if (error instanceof UsageError) {
      process.stderr.write(`crispfold: ${error.message}\n${USAGE}`);
      return 2;
    }
    if (error instanceof InputError) {
      process.stderr.write(`crispfold: ${error.message}\n`);
      return 1;
    }
    throw error;
  }
};

process.exitCode = await main(process.argv.slice(2));
