import { spawn } from 'node:child_process';
import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  realpathSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { demoArrangement } from '@crispfold/core';
import { createClient } from '@libsql/client';
import { build } from 'esbuild';
import { beforeEach, describe, expect, it } from 'vitest';
import { ArrangementStore } from '../arrangementStore.js';
import { createBackups } from '../backup/backups.js';
import { CannotOpen, openDatabase } from './database.js';

const migrations = path.resolve(import.meta.dirname, '../../migrations');
let folder: string;
let file: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'crispfold-db-'));
  file = path.join(folder, 'test.sqlite');
});

/** Fails with words that hold these, and leaves the file byte for byte as it was. */
const refuses = async (words: string): Promise<void> => {
  const before = readFileSync(file);
  const error = await openDatabase(file, migrations).then(
    () => null,
    (problem: Error) => problem,
  );
  expect(error).toBeInstanceOf(CannotOpen);
  expect(error?.message).toContain(words);
  expect(readFileSync(file).equals(before)).toBe(true);
};

const withDemo = async (): Promise<string> => {
  const database = await openDatabase(file, migrations);
  const id = await new ArrangementStore(database.db).create(demoArrangement());
  await database.close();
  return id;
};

describe('a database', () => {
  it('is all in its file once it is closed: a copy of the file is the work', async () => {
    const id = await withDemo();
    const log = readdirSync(folder).filter((name) => name.endsWith('-wal'));
    for (const name of log) expect(readFileSync(path.join(folder, name))).toHaveLength(0);
    const copy = path.join(folder, 'copy.sqlite');
    copyFileSync(file, copy);
    const database = await openDatabase(copy, migrations);
    expect((await new ArrangementStore(database.db).open(id)).arrangement).toEqual(demoArrangement());
    await database.close();
  });

  it('of no bytes, of another kind, or damaged is left as it is, and that is said', async () => {
    writeFileSync(file, '');
    await refuses('is empty (0 bytes)');
    writeFileSync(file, 'Dear all, the rehearsal is on Tuesday.');
    await refuses('no Crisp Fold database');
  });

  it('that is damaged within is told, with the way out', async () => {
    await withDemo();
    const bytes = readFileSync(file);
    bytes.fill(0xa5, 4096 * 2, Math.min(bytes.length, 4096 * 12));
    writeFileSync(file, bytes);
    await refuses('is damaged');
  });

  it('of a newer Crisp Fold is left as it is', async () => {
    await withDemo();
    const client = createClient({ url: `file:${file}` });
    await client.execute("insert into __drizzle_migrations (hash, created_at) values ('later', 9999999999999)");
    await client.execute('PRAGMA wal_checkpoint(TRUNCATE)');
    client.close();
    await refuses('newer Crisp Fold');
  });

  it('is served by one server at a time, however it is called; killed, it makes room at once', async () => {
    await withDemo();
    const link = path.join(folder, 'link.sqlite');
    symlinkSync(file, link);
    const script = path.join(folder, 'serves.mjs');
    await build({
      stdin: {
        contents: `import { openDatabase } from './database.ts';
          await openDatabase(${JSON.stringify(link)}, ${JSON.stringify(migrations)});
          process.stdout.write('serves');
          setInterval(() => {}, 1000);`,
        resolveDir: import.meta.dirname,
      },
      bundle: true,
      platform: 'node',
      format: 'esm',
      packages: 'external',
      outfile: path.join(import.meta.dirname, '../../../../node_modules/.cache/lock-test/serves.mjs'),
      logLevel: 'error',
    });
    const other = spawn(process.execPath, [
      path.join(import.meta.dirname, '../../../../node_modules/.cache/lock-test/serves.mjs'),
    ]);
    await new Promise((resolve) => other.stdout.once('data', resolve));
    await expect(openDatabase(file, migrations)).rejects.toThrow(/served by another Crisp Fold already/);
    other.kill('SIGKILL');
    await new Promise((resolve) => other.once('exit', resolve));
    const database = await openDatabase(link, migrations);
    // Also within one process.
    await expect(openDatabase(file, migrations)).rejects.toThrow(/served by another Crisp Fold already/);
    expect(database.file).toBe(realpathSync(file));
    await database.close();
  });

  it('of an earlier release that runs is left to it; a process id that belongs to another program by now means nothing', async () => {
    await withDemo();
    const other = spawn(process.execPath, ['-e', 'setTimeout(() => {}, 60000)']);
    await new Promise((resolve) => other.once('spawn', resolve));
    writeFileSync(`${file}.lock`, String(other.pid));
    const later = Date.now() / 1000 + 60;
    utimesSync(`${file}.lock`, later, later);
    await expect(openDatabase(file, migrations)).rejects.toThrow(/served by another Crisp Fold already/);
    // The lock is older than the program.
    utimesSync(`${file}.lock`, later - 86_400, later - 86_400);
    await (await openDatabase(file, migrations)).close();
    expect(existsSync(`${file}.lock`)).toBe(false);
    other.kill('SIGKILL');
  });

  it('that was cut off in its very first start is begun anew', async () => {
    writeFileSync(`${file}.new`, '');
    const database = await openDatabase(file, migrations);
    expect(await new ArrangementStore(database.db).list()).toEqual([]);
    await database.close();
    expect(existsSync(`${file}.new`)).toBe(false);
  });

  it('takes writes to several arrangements at once, one after another', async () => {
    const database = await openDatabase(file, migrations);
    const store = new ArrangementStore(database.db);
    const ids = await Promise.all(Array.from({ length: 6 }, () => store.create(demoArrangement())));
    const titled = ids.map((id, at) =>
      store.update(id, null, ({ title }) => [
        {
          kind: 'edit',
          edit: {
            label: 'Title',
            changes: [{ kind: 'arrangementFields', before: { title }, after: { title: `${at}` } }],
          },
        },
      ]),
    );
    const others = ids.map((id) => store.tag(id, ['at once']));
    await Promise.all([...titled, ...others]);
    expect((await store.list()).map(({ title, tags }) => [title, tags]).sort()).toEqual(
      ids.map((_, at) => [`${at}`, ['at once']]),
    );
    await database.close();
  });
});

describe('backups', () => {
  it('are one whole file, made while the database is written to', async () => {
    const id = await withDemo();
    const database = await openDatabase(file, migrations);
    const store = new ArrangementStore(database.db);
    const [{ file: copy, done }] = await Promise.all([
      createBackups(file, { workFolder: folder }).take(),
      store.duplicate(id),
    ]);
    const opened = await openDatabase(copy, migrations);
    expect((await new ArrangementStore(opened.db).open(id)).arrangement).toEqual(demoArrangement());
    await opened.close();
    await done();
    expect(existsSync(copy)).toBe(false);
    await database.close();
  });

  it('are taken one at a time; each copy goes when it was handed out', async () => {
    await withDemo();
    const backups = createBackups(file, { workFolder: folder });
    const first = await backups.take();
    let second: Awaited<ReturnType<typeof backups.take>> | undefined;
    const waiting = backups.take().then((taken) => {
      second = taken;
    });
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(second).toBeUndefined();
    await first.done();
    await waiting;
    expect([existsSync(first.file), existsSync(second?.file ?? '')]).toEqual([false, true]);
    await second?.done();
  });

  it('of the nights are kept for seven of them, one a night', async () => {
    await withDemo();
    const backups = createBackups(file, { workFolder: folder });
    for (let day = 1; day <= 10; day += 1) {
      const made = await backups.nightly(new Date(Date.UTC(2026, 0, day)));
      expect(made).toContain(`2026-01-${String(day).padStart(2, '0')}`);
    }
    expect(await backups.nightly(new Date(Date.UTC(2026, 0, 10)))).toBeNull();
    writeFileSync(path.join(folder, 'backups', 'test.sqlite', 'mine.sqlite'), 'kept');
    await backups.nightly(new Date(Date.UTC(2026, 0, 11)));
    const names = readdirSync(path.join(folder, 'backups', 'test.sqlite')).sort();
    expect(names).toHaveLength(8);
    expect(names[0]).toBe('crispfold-2026-01-05.sqlite');
    expect(names).toContain('mine.sqlite');
  });
});
