import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { sentencesToFile } from '@crispfold/contract';
import {
  applyEdit,
  demoArrangement,
  demoMidi,
  FREE_KINDS,
  importMidi,
  NOTHING,
  READY_SENTENCES,
  runSentence,
  writePlayedMidi,
} from '@crispfold/core';
import { sql } from 'drizzle-orm';
import { beforeAll, describe, expect, it } from 'vitest';
import { ArrangementStore } from '../apps/server/src/arrangementStore.js';
import { openDatabase } from '../apps/server/src/db/database.js';

const root = path.resolve(import.meta.dirname, '..');
const folder = mkdtempSync(path.join(tmpdir(), 'crispfold-cli-'));
const demo = path.join(folder, 'Saltmarsh Lanterns.mid');
/** Its beginning in two parts, where the whole would only take longer. */
const short = path.join(mkdtempSync(path.join(folder, 'short-')), 'Saltmarsh Lanterns.mid');
const run = (...args: string[]) =>
  spawnSync(process.execPath, [path.join(root, 'bin/crispfold.mjs'), ...args], { encoding: 'utf8', cwd: folder });
const fresh = () => mkdtempSync(path.join(folder, 'out-'));

beforeAll(() => {
  // `npm test` has built all of it just before.
  const built = process.env.CRISPFOLD_BUILT === 'yes';
  for (const folder of built ? [] : ['packages/core', 'packages/contract', 'packages/press', 'apps/server'])
    execFileSync('npm', ['run', '--silent', 'build', '-w', folder], { cwd: root, stdio: 'ignore' });
  writeFileSync(demo, demoMidi());
  const whole = demoArrangement();
  const end = 10 * 4 * whole.ppq;
  const parts = whole.parts.slice(0, 2).map((part) => ({
    ...part,
    notes: part.notes.filter(({ onset }) => onset < end),
    events: part.events.filter(({ tick }) => tick < end),
  }));
  writeFileSync(short, writePlayedMidi({ ...whole, parts }));
});

describe('inspect', () => {
  it('prints what a file holds as JSON', () => {
    const { status, stdout } = run('inspect', demo, '--json');
    expect(status).toBe(0);
    const summary = JSON.parse(stdout);
    expect(Object.keys(summary)).toEqual([
      'title',
      'ppq',
      'bars',
      'seconds',
      'tempos',
      'meters',
      'keys',
      'pickup',
      'parts',
      'warnings',
    ]);
    expect(summary).toMatchObject({ title: 'Saltmarsh Lanterns', ppq: 480, bars: 40, warnings: [] });
    expect(Object.keys(summary.parts[0])).toEqual([
      'name',
      'channel',
      'program',
      'notes',
      'lowest',
      'highest',
      'oneNote',
      'clefs',
      'readability',
      'findings',
    ]);
    expect(summary.parts[0].findings.specks).toBeGreaterThan(0);
    expect(summary).toMatchObject({ keys: [{ bar: 1, fifths: -1 }], pickup: 0 });
    expect(summary.parts[4]).toMatchObject({ name: 'Cello', clefs: ['bass'] });
    expect(summary.parts[0].readability.after).toBeLessThan(summary.parts[0].readability.before);
  });

  it('prints it in words without', () => {
    expect(run('inspect', demo).stdout).toMatch(/^Saltmarsh Lanterns: 40 bars.*\n {2}Flute: \d+ notes, channel 1/);
  });
});

describe('tidy', () => {
  it('writes the score and each part as PDF', () => {
    const out = fresh();
    expect(run('tidy', short, '--out', out, '--write', 'pdf,parts').status).toBe(0);
    expect(readdirSync(out).sort()).toEqual(
      ['Clarinet in B flat', 'Flute', 'score'].map((name) => `Saltmarsh Lanterns.${name}.pdf`),
    );
    expect(readFileSync(path.join(out, 'Saltmarsh Lanterns.score.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
  });

  it('writes MusicXML by default, named by the first file', () => {
    const out = fresh();
    expect(run('tidy', short, '--out', out).status).toBe(0);
    expect(readdirSync(out)).toEqual(['Saltmarsh Lanterns.musicxml']);
  });

  it('writes what is asked for, into a folder it makes', () => {
    const out = path.join(fresh(), 'deeper');
    expect(run('tidy', demo, '--out', out, '--write', 'musicxml,mxl,midi-played,midi-written,report').status).toBe(0);
    expect(readdirSync(out).sort()).toEqual(
      ['musicxml', 'mxl', 'played.mid', 'report.json', 'written.mid'].map((ending) => `Saltmarsh Lanterns.${ending}`),
    );
    const back = importMidi([
      { name: 'back.mid', bytes: new Uint8Array(readFileSync(path.join(out, 'Saltmarsh Lanterns.played.mid'))) },
    ]);
    expect(back.ok && back.value.arrangement.parts.map((part) => part.name)).toContain('Cello');
  });

  it('quantizes to the grid asked for', () => {
    const out = fresh();
    const plain = path.join(fresh(), 'Saltmarsh Lanterns.mid');
    // Without the part that has grace notes and a trill, which Written MIDI plays as they were read.
    const { parts, ...rest } = demoArrangement();
    const some = parts.filter(({ name }) => name !== 'Flute');
    writeFileSync(plain, writePlayedMidi({ ...rest, parts: some }));
    run('tidy', plain, '--out', out, '--grid', '1/4', '--write', 'midi-written');
    const back = importMidi([
      { name: 'b.mid', bytes: new Uint8Array(readFileSync(path.join(out, 'Saltmarsh Lanterns.written.mid'))) },
    ]);
    if (!back.ok) throw new Error(back.problem.message);
    // In 6/8 the grid starts anew in each bar, so quarters lie on every second eighth.
    const onsets = back.value.arrangement.parts.flatMap((part) => part.notes.map((n) => n.onset));
    expect(onsets.every((onset) => onset % 5040 === 0)).toBe(true);
  });

  it('makes one arrangement of several files', () => {
    const out = fresh();
    expect(run('tidy', short, short, '--out', out).status).toBe(0);
    expect(readFileSync(path.join(out, 'Saltmarsh Lanterns.musicxml'), 'utf8').match(/<score-part /g)).toHaveLength(4);
  });
});

describe('tidy --each', () => {
  it('makes one arrangement of each file, also of a folder of takes, and stops at none that cannot be read', () => {
    const takes = fresh();
    writeFileSync(path.join(takes, 'first take.mid'), demoMidi());
    writeFileSync(path.join(takes, 'Saltmarsh Lanterns.mid'), demoMidi());
    writeFileSync(path.join(takes, 'notes.txt'), 'no music');
    const bad = path.join(takes, 'text.mid');
    writeFileSync(bad, 'no music');
    const out = fresh();
    const { status, stdout, stderr } = run('tidy', '--each', demo, takes, '--out', out, '--write', 'musicxml');
    expect(status).toBe(1);
    expect(readdirSync(out).sort()).toEqual([
      'Saltmarsh Lanterns (2).musicxml',
      'Saltmarsh Lanterns.musicxml',
      'first take.musicxml',
    ]);
    const lines = stdout.trim().split('\n');
    expect(lines[0]).toBe(`${demo}: Saltmarsh Lanterns, 6 parts, ${lines[0]?.match(/(\d+) notes/)?.[1]} notes`);
    expect(lines).toHaveLength(5);
    expect(lines.find((line) => line.startsWith(bad))).toContain('not read. ');
    expect(lines[4]).toBe('4 files: 3 tidied, 1 not read.');
    expect(stderr).toContain('1 file could not be read.');
  });

  it('ends with 0 where all are read', () => {
    const { status, stdout } = run('tidy', '--each', short, '--out', fresh(), '--write', 'midi-written');
    expect([status, stdout.trim().split('\n')[1]]).toEqual([0, '1 file: 1 tidied, 0 not read.']);
  });
});

describe('tidy --tempo', () => {
  const kind = FREE_KINDS.find(({ name }) => name.includes('played at 96')) as (typeof FREE_KINDS)[number];
  // A melody from memory, played at 96 in a file that says 120: three bars and a half of the file are its first four.
  const sample = kind.sample(5, 2);
  const take = path.join(folder, 'Take.mid');
  const bars = (file: string): number => (readFileSync(file, 'utf8').match(/<measure /g) ?? []).length;
  const composed = Math.ceil(
    Math.max(...sample.composed.flat().map(({ onset, duration }) => onset + duration)) / 10080 / 4,
  );

  beforeAll(() => writeFileSync(take, writePlayedMidi(sample.arrangement)));

  it.each([
    [[], true],
    [['--tempo', 'from-take'], true],
    [['--tempo', 'file'], false],
  ])('%s', (options, taken) => {
    const out = fresh();
    const { status, stderr } = run('tidy', take, '--out', out, '--write', 'musicxml,report', ...options);
    expect(status).toBe(0);
    // The report of the plan says it too, for whoever opens the files later.
    const { before } = JSON.parse(readFileSync(path.join(out, 'Take.report.json'), 'utf8'));
    expect(before).toHaveLength(taken ? 1 : 0);
    for (const words of before) expect(stderr).toContain(words);
    expect(stderr.includes('The tempo is taken from the take: ')).toBe(taken);
    expect(stderr.includes('The tempo of the file does not fit.')).toBe(taken && options.length === 0);
    expect(bars(path.join(out, 'Take.musicxml')) === composed).toBe(taken);
  });
  it('keeps a tempo that fits, and knows no other words', () => {
    expect(run('tidy', demo, '--out', fresh()).stderr).not.toContain('tempo');
    expect(run('tidy', short, '--out', fresh(), '--tempo', 'soon').status).toBe(2);
  });
});

describe('change', () => {
  const sentences = (text: string): string => {
    const file = path.join(fresh(), 'sentences.json');
    writeFileSync(file, text);
    return file;
  };
  const read = (file: string) => {
    const result = importMidi([{ name: path.basename(file), bytes: new Uint8Array(readFileSync(file)) }]);
    if (!result.ok) throw new Error(result.problem.message);
    return result.value.arrangement;
  };
  const notesOf = ({ parts }: ReturnType<typeof read>) =>
    parts.map((part) => part.notes.map((n) => [n.pitch, n.onset, n.duration, n.velocity]));

  it('does what the screen does, and tells what each line touched', () => {
    const chosen = READY_SENTENCES.filter(({ name }) => /louder|sixteenth|sticks out nearer/.test(name));
    const out = fresh();
    const { status, stdout } = run('change', demo, '--sentences', sentences(sentencesToFile(chosen)), '--out', out);
    expect(status).toBe(0);
    expect(stdout).toMatch(
      /The lowest of each chord louder\n {2}Where a note is placed in its chord: at the bottom, in its part, without .*\n {4}.*\d+ in Vibraphone/,
    );
    let here = read(demo);
    for (const sentence of chosen) {
      const done = runSentence(
        { arrangement: here, reach: here.parts.map((part) => part.id), selection: NOTHING, onlyShown: null },
        sentence,
      );
      here = done.edit ? applyEdit(here, done.edit) : here;
    }
    expect(notesOf(read(path.join(out, 'Saltmarsh Lanterns.played.mid')))).toEqual(notesOf(here));
  });

  it('says what cannot be meant, and refuses a file of a newer version', () => {
    const lost = JSON.stringify({
      format: 'crisp-fold-sentences',
      version: 1,
      sentences: [
        {
          version: 1,
          name: 'Lost',
          lines: [
            {
              where: [[{ kind: 'part', not: false, parameters: { name: 'Tuba' } }]],
              do: [{ kind: 'delete', parameters: {} }],
            },
          ],
        },
      ],
    });
    const { status, stdout } = run('change', demo, '--sentences', sentences(lost), '--out', fresh());
    expect(status).toBe(0);
    expect(stdout).toContain('    no note\n    There is no part called Tuba here.');
    const newer = run(
      'change',
      demo,
      '--sentences',
      sentences('{"format":"crisp-fold-sentences","version":9}'),
      '--out',
      fresh(),
    );
    expect(newer.status).toBe(1);
    expect(newer.stderr).toContain('newer than this Crisp Fold');
  });
});

describe('wrong usage ends with 2', () => {
  it.each([
    [[]],
    [['polish', 'a.mid']],
    [['inspect']],
    [['tidy', 'a.mid']],
    [['tidy', '--out', 'x']],
    [['tidy', 'a.mid', '--out', 'x', '--grid', '1/7']],
    [['tidy', 'a.mid', '--out', 'x', '--write', 'paper']],
    [['tidy', 'a.mid', '--out', 'x', '--loud']],
    [['change', 'a.mid', '--out', 'x']],
    [['change', 'a.mid', '--sentences', 'x.json']],
    [['change', '--sentences', 'x.json', '--out', 'x']],
  ])('%j', (args) => {
    const { status, stderr } = run(...args);
    expect(status).toBe(2);
    expect(stderr).toMatch(/^crispfold: /);
  });
});

describe('input that cannot be read ends with 1, one line, and no file', () => {
  const bad = (name: string, bytes: Uint8Array | string) => {
    const file = path.join(folder, name);
    writeFileSync(file, bytes);
    return file;
  };

  it.each([
    ['text.mid', 'not music'],
    ['empty.mid', ''],
    ['zeros.mid', new Uint8Array(20 * 1024 * 1024)],
    ['large.mid', new Uint8Array(21 * 1024 * 1024)],
  ])('%s', (name, bytes) => {
    const out = path.join(folder, `none-${name}`);
    const began = Date.now();
    const { status, stderr } = run('tidy', bad(name, bytes), '--out', out);
    expect(status).toBe(1);
    expect(stderr).toMatch(/^crispfold: [^\n]+\n$/);
    expect(existsSync(out)).toBe(false);
    expect(Date.now() - began).toBeLessThan(20_000);
  });

  it('a file that is not there', () => {
    expect(run('inspect', '/nowhere/at-all.mid')).toMatchObject({
      status: 1,
      stderr: 'crispfold: /nowhere/at-all.mid: there is no such file.\n',
    });
  });

  it('but a file cut off in the middle gives what is whole, with a warning', () => {
    const whole = demoMidi();
    const out = fresh();
    const { status, stderr } = run('tidy', bad('cut.mid', whole.slice(0, whole.length - 900)), '--out', out);
    expect(status).toBe(0);
    expect(stderr).toMatch(/^crispfold: warning: Track/);
    expect(readdirSync(out)).toEqual(['cut.musicxml']);
  });
});

describe('a plan from a file', () => {
  const planFile = (name: string, value: unknown) => {
    const file = path.join(folder, name);
    writeFileSync(file, typeof value === 'string' ? value : JSON.stringify(value));
    return file;
  };
  const header = { format: 'crisp-fold-plan', version: 2, name: 'Mine' };

  it('is applied to every part, and stands in the report', () => {
    const plan = planFile('eighths.json', {
      ...header,
      steps: [{ step: 'quantizeStarts', parameters: { grid: 1 / 8 } }, { step: 'settleLengths' }],
    });
    const out = fresh();
    expect(run('tidy', demo, '--out', out, '--plan', plan, '--write', 'report').status).toBe(0);
    const report = JSON.parse(readFileSync(path.join(out, 'Saltmarsh Lanterns.report.json'), 'utf8'));
    for (const part of report.parts) {
      expect(part.plan.name).toBe('Mine');
      expect(part.steps.map((step: { step: string }) => step.step)).toEqual(['quantizeStarts', 'settleLengths']);
    }
  });

  it('gives way to --grid in its grid alone', () => {
    const plan = planFile('own.json', { ...header, steps: [{ step: 'quantizeStarts' }] });
    const out = fresh();
    run('tidy', demo, '--out', out, '--plan', plan, '--grid', '1/4', '--write', 'report');
    const report = JSON.parse(readFileSync(path.join(out, 'Saltmarsh Lanterns.report.json'), 'utf8'));
    expect(report.parts[0].plan.steps[0].parameters.grid).toBe(1 / 4);
  });

  it.each([
    ['that is not there', path.join(folder, 'nowhere.json'), 'there is no such file'],
    ['that is no JSON', planFile('broken.json', '{'), 'not JSON'],
    ['of something else', planFile('other.json', { hello: 1 }), 'This is not a plan'],
    ['with a step there is not', planFile('sing.json', { ...header, steps: [{ step: 'sing' }] }), 'no such step'],
    [
      'with a wrong parameter',
      planFile('far.json', { ...header, steps: [{ step: 'quantizeStarts', parameters: { strength: 300 } }] }),
      '"Strength"',
    ],
  ])('%s is refused with one line, and nothing is written', (_name, file, words) => {
    const out = fresh();
    const { status, stderr } = run('tidy', demo, '--out', out, '--plan', file);
    expect(status).toBe(1);
    expect(stderr).toMatch(/^crispfold: /);
    expect(stderr.trim().split('\n')).toHaveLength(1);
    expect(stderr).toContain(words);
    expect(readdirSync(out)).toEqual([]);
  });

  it('without one each part goes by the plan that its content asks for', () => {
    const out = fresh();
    run('tidy', demo, '--out', out, '--write', 'report');
    const report = JSON.parse(readFileSync(path.join(out, 'Saltmarsh Lanterns.report.json'), 'utf8'));
    expect(report.parts.map((part: { plan: { name: string } }) => part.plan.name)).toEqual([
      'One-note line',
      'One-note line',
      'One-note line',
      'Chords',
      'One-note line',
      'Percussion',
    ]);
  });
});

describe('backup and rescue', () => {
  const database = path.join(folder, 'library.sqlite');
  const migrations = path.join(root, 'apps/server/migrations');

  beforeAll(async () => {
    const opened = await openDatabase(database, migrations);
    const store = new ArrangementStore(opened.db);
    await store.create(demoArrangement());
    await store.create({ ...demoArrangement(), title: 'Dusk: a/b' });
    await opened.close();
  });

  it('write one whole file of the library', async () => {
    const copy = path.join(fresh(), 'copy.sqlite');
    expect(run('backup', database, '--out', copy)).toMatchObject({ status: 0, stdout: `Wrote ${copy}.\n` });
    const opened = await openDatabase(copy, migrations);
    expect(await new ArrangementStore(opened.db).list()).toHaveLength(2);
    await opened.close();
  });

  it('write what can be read of a damaged database as MIDI, and leave the file as it is', () => {
    const damaged = path.join(fresh(), 'damaged.sqlite');
    const bytes = readFileSync(database);
    // The last pages hold the second arrangement's snapshot.
    bytes.fill(0xa5, bytes.length - 4096);
    writeFileSync(damaged, bytes);
    const out = fresh();
    const { status, stdout } = run('rescue', damaged, '--out', out);
    expect(status).toBe(0);
    expect(stdout).toMatch(/^\d of 2 arrangements rescued\./);
    const files = readdirSync(out);
    expect(files.length).toBeGreaterThan(0);
    const music = importMidi([{ name: 'a.mid', bytes: new Uint8Array(readFileSync(path.join(out, files[0] ?? ''))) }]);
    expect(music.ok && music.value.arrangement.parts).toHaveLength(6);
    expect(readFileSync(damaged).equals(bytes)).toBe(true);
  });

  it('read around a text that is no text any more, and no server opens such a file', async () => {
    const broken = path.join(fresh(), 'broken.sqlite');
    writeFileSync(broken, readFileSync(database));
    const opened = await openDatabase(broken, migrations);
    await opened.db.run(sql`update arrangements set summary = cast(x'a5a5' as text) where summary like '%Dusk%'`);
    await opened.close();
    await expect(openDatabase(broken, migrations)).rejects.toThrow(/is damaged.*crispfold rescue/);
    const out = fresh();
    expect(run('rescue', broken, '--out', out)).toMatchObject({ status: 0 });
    expect(readdirSync(out)).toHaveLength(2);
  });

  it('say in a sentence what is wrong', () => {
    expect(run('backup', path.join(folder, 'none.sqlite'), '--out', 'x')).toMatchObject({ status: 1 });
    expect(run('rescue', demo, '--out', fresh()).stderr).toMatch(/nothing of it can be read/);
    expect(run('rescue', '--out', 'x').status).toBe(2);
  });
});
