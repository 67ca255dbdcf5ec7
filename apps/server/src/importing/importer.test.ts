import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { demoArrangement, demoMidi } from '@crispfold/core';
import { build } from 'esbuild';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { unpacked } from '../packing.js';
import { OUT_OF_MEMORY } from '../threads.js';
import { createImporter } from './importer.js';

const root = path.resolve(import.meta.dirname, '../../../..');
const folder = path.join(root, 'node_modules', '.cache', 'importer-test');
const files = mkdtempSync(path.join(tmpdir(), 'crispfold-files-'));

/** The thread's script, and ones that hang, use up memory, or end at once. */
const scripts = {
  real: pathToFileURL(path.join(folder, 'importWorker.js')),
  hangs: pathToFileURL(path.join(folder, 'hangs.mjs')),
  grows: pathToFileURL(path.join(folder, 'grows.mjs')),
  ends: pathToFileURL(path.join(folder, 'ends.mjs')),
  works: pathToFileURL(path.join(folder, 'works.mjs')),
  bytes: pathToFileURL(path.join(folder, 'bytes.mjs')),
};
const waitsFor = (what: string) =>
  `import { parentPort } from 'node:worker_threads'; parentPort.once('message', () => { ${what} });`;

beforeAll(async () => {
  await build({
    entryPoints: [path.join(import.meta.dirname, 'importWorker.ts')],
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    alias: {
      '@crispfold/core': path.join(root, 'packages/core/src/index.ts'),
      '@crispfold/contract': path.join(root, 'packages/contract/src/index.ts'),
    },
    outdir: folder,
    logLevel: 'error',
  });
  writeFileSync(scripts.hangs, waitsFor('for (;;);'));
  writeFileSync(scripts.grows, waitsFor('const all = []; for (;;) all.push(new Array(1000).fill(Math.random()));'));
  const rounds =
    'for (let round = 1; round <= 5; round += 1) { const until = Date.now() + 700; while (Date.now() < until); parentPort.postMessage({ bytesDone: round }); }';
  writeFileSync(
    scripts.works,
    waitsFor(`${rounds} parentPort.postMessage({ ok: false, problem: { code: 'done', message: '' } });`),
  );
  writeFileSync(scripts.bytes, waitsFor(`throw Object.assign(new Error(''), { code: '${OUT_OF_MEMORY}' });`));
  writeFileSync(scripts.ends, waitsFor('process.exit(3);'));
});

const opened: { close: () => Promise<void> }[] = [];
afterAll(() => Promise.all(opened.map((one) => one.close())));
const importerOf = (script: URL, bounds?: { silentMilliseconds: number; megabytes: number }) => {
  const made = createImporter(script, bounds);
  opened.push(made);
  return made.importer;
};
const save = (name: string, bytes: Uint8Array | string) => {
  const at = path.join(files, name);
  writeFileSync(at, bytes);
  return { name, path: at };
};
const waiting = new AbortController().signal;

describe('files read in a thread of their own', () => {
  it('become an arrangement that is ready to be kept and sent', async () => {
    const asked = { files: [save('Saltmarsh Lanterns.mid', demoMidi())], become: 'new' as const };
    const answer = await importerOf(scripts.real)(asked, waiting);
    if (!answer.ok || answer.read.become !== 'new') throw new Error('It was not read.');
    expect(await unpacked(answer.read.packed)).toEqual(demoArrangement());
    expect(JSON.parse(Buffer.from(answer.read.json).toString())).toEqual(demoArrangement());
    expect(JSON.parse(answer.read.summary)).toMatchObject({ title: 'Saltmarsh Lanterns', bars: 40 });
  });

  it('are told in words where they are none, one request after another', async () => {
    const importer = importerOf(scripts.real);
    const asked = { files: [save('letter.mid', 'Dear all')], become: 'new' as const };
    const both = await Promise.all([importer(asked, waiting), importer(asked, waiting), importer(asked, waiting)]);
    for (const answer of both) {
      expect(answer).toMatchObject({ ok: false, problem: { message: 'letter.mid: This is not a MIDI file.' } });
    }
  });

  const asked = { files: [], become: 'new' as const };

  it('that take too long, or too much memory, or end the thread, cost their own request and no other', async () => {
    const bounds = { silentMilliseconds: 1500, megabytes: 60 };
    await expect(importerOf(scripts.hangs, bounds)(asked, waiting)).rejects.toMatchObject({
      status: 422,
      message: expect.stringContaining('comes to no end'),
    });
    const long = { silentMilliseconds: 120_000, megabytes: 60 };
    await expect(importerOf(scripts.grows, long)(asked, waiting)).rejects.toMatchObject({
      status: 422,
      message: expect.stringContaining('more memory'),
    });
    await expect(importerOf(scripts.bytes, long)(asked, waiting)).rejects.toMatchObject({
      message: expect.stringContaining('more memory'),
    });
    await expect(importerOf(scripts.ends, long)(asked, waiting)).rejects.toMatchObject({
      status: 422,
      code: 'tooMuch',
    });
  });

  it('may take any time as long as they are worked on, and tell how far they are', async () => {
    const told: number[] = [];
    const bounds = { silentMilliseconds: 1500, megabytes: 60 };
    const reading = importerOf(scripts.works, bounds)(asked, waiting, ({ bytesDone }) => told.push(bytesDone));
    await expect(reading).resolves.toMatchObject({ ok: false, problem: { code: 'done' } });
    expect(told).toEqual([1, 2, 3, 4, 5]);
  }, 20_000);

  it('are given up when nobody waits for them', async () => {
    const left = new AbortController();
    const reading = importerOf(scripts.hangs)(asked, left.signal);
    setTimeout(() => left.abort(), 200);
    await expect(reading).rejects.toMatchObject({ code: 'cancelled' });
  });
});
