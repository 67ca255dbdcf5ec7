import { spawn } from 'node:child_process';
import { copyFileSync, existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { demoArrangement } from '@crispfold/core';
import { createClient } from '@libsql/client';
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
  expect(existsSync(`${file}.lock`)).toBe(false);
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

  it('is served by one server at a time; the lock of one that was killed is taken over', async () => {
    await withDemo();
    const other = spawn(process.execPath, ['-e', 'setTimeout(() => {}, 60000)']);
    writeFileSync(`${file}.lock`, String(other.pid));
    await expect(openDatabase(file, migrations)).rejects.toThrow(
      /served by another Crisp Fold already \(process \d+\)/,
    );
    other.kill('SIGKILL');
    await new Promise((resolve) => other.once('exit', resolve));
    const database = await openDatabase(file, migrations);
    expect(readFileSync(`${file}.lock`, 'utf8')).toBe(String(process.pid));
    await database.close();
    expect(existsSync(`${file}.lock`)).toBe(false);
  });
});

describe('backups', () => {
  it('are one whole file, made while the database is written to', async () => {
    const id = await withDemo();
    const database = await openDatabase(file, migrations);
    const store = new ArrangementStore(database.db);
    const [{ file: copy, done }] = await Promise.all([createBackups(file).take(), store.duplicate(id)]);
    const opened = await openDatabase(copy, migrations);
    expect((await new ArrangementStore(opened.db).open(id)).arrangement).toEqual(demoArrangement());
    await opened.close();
    await done();
    expect(existsSync(copy)).toBe(false);
    await database.close();
  });

  it('of the nights are kept for seven of them, one a night', async () => {
    await withDemo();
    const backups = createBackups(file);
    for (let day = 1; day <= 10; day += 1) {
      const made = await backups.nightly(new Date(Date.UTC(2026, 0, day)));
      expect(made).toContain(`2026-01-${String(day).padStart(2, '0')}`);
    }
    expect(await backups.nightly(new Date(Date.UTC(2026, 0, 10)))).toBeNull();
    writeFileSync(path.join(folder, 'backups', 'mine.sqlite'), 'kept');
    await backups.nightly(new Date(Date.UTC(2026, 0, 11)));
    const names = readdirSync(path.join(folder, 'backups')).sort();
    expect(names).toHaveLength(8);
    expect(names[0]).toBe('crispfold-2026-01-05.sqlite');
    expect(names).toContain('mine.sqlite');
  });
});
