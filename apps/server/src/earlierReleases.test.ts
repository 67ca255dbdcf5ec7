/**
 * Databases and archives that earlier releases wrote, each by its own server (folder `fixtures`, by the number of its newest
 * migration): opened, brought up to date, changed, saved, taken away and brought back.
 */
import { createHash } from 'node:crypto';
import { cpSync, existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { arrangementSchema } from '@crispfold/contract';
import type { Arrangement } from '@crispfold/core';
import { afterEach, describe, expect, it } from 'vitest';
import { ask, json, newFile, type Running, startServer, upload } from './testing/running.js';

const FIXTURES = path.resolve(import.meta.dirname, '../fixtures');

/** What the release's own server said of the work before it was stopped. */
interface Expected {
  readonly id: string;
  readonly inTheBin: string;
  readonly recording: string | null;
  readonly title: string;
  readonly revision: number;
  readonly position: number;
  readonly labels: readonly string[];
  readonly notes: string;
}

const notesOf = ({ parts }: Arrangement): string => {
  const notes = parts.map(({ name, notes: own }) => [
    name,
    own.map(({ pitch, onset, duration, velocity }) => [pitch, onset, duration, velocity]),
  ]);
  return createHash('sha256').update(JSON.stringify(notes)).digest('hex');
};

let server: Running | undefined;
afterEach(async () => {
  await server?.stop();
  server = undefined;
});

/** A server of today on a copy of what a release left. */
const serverOn = async (release: string): Promise<Running> => {
  const file = newFile('crispfold.sqlite');
  cpSync(path.join(FIXTURES, release), path.dirname(file), { recursive: true });
  server = await startServer(file);
  return server;
};
const expectedOf = (release: string): Expected =>
  JSON.parse(readFileSync(path.join(FIXTURES, release, 'expected.json'), 'utf8')) as Expected;

describe.each(readdirSync(FIXTURES))('what release %s wrote', (release) => {
  const expected = expectedOf(release);

  it('is there as it was, can be changed, saved, and gone back through', async () => {
    const running = await serverOn(release);
    const { body: open } = await ask(running, `/${expected.id}`);
    expect([open.arrangement.title, open.revision, open.history.position]).toEqual([
      expected.title,
      expected.revision,
      expected.position,
    ]);
    expect(notesOf(open.arrangement)).toBe(expected.notes);
    expect(open.history.entries.slice(0, 3).map(({ label }: { label: string }) => label)).toEqual(expected.labels);
    arrangementSchema.validateSync(open.arrangement, { strict: true });
    expect((await ask(running, `/${expected.id}`, json({ title: 'Today' }, 'PATCH'))).status).toBe(200);
    const back = json({ baseRevision: expected.revision + 1, entries: [{ kind: 'goTo', position: 0 }] });
    expect((await ask(running, `/${expected.id}/journal`, back)).status).toBe(200);
    expect((await ask(running, `/${expected.id}`)).body.arrangement.title).toBe('Lantern Prelude');
  });

  it('holds its bin, from which it comes back', async () => {
    const running = await serverOn(release);
    expect((await ask(running, '/bin')).body.map(({ id }: { id: string }) => id)).toEqual([expected.inTheBin]);
    expect((await ask(running, `/${expected.inTheBin}`)).status).toBe(410);
    expect((await ask(running, `/${expected.inTheBin}/restore`, { method: 'POST' })).status).toBe(204);
    expect((await ask(running, `/${expected.inTheBin}`)).status).toBe(200);
  });

  it.runIf(expected.recording)(
    'keeps its recording under the name it had, through looking for what nobody names',
    async () => {
      const running = await serverOn(release);
      for (const day of [0, 40]) await running.recordings.files.clearUnnamed(new Date(Date.now() + day * 86_400_000));
      const response = await fetch(`${running.base}/${expected.id}/recordings/${expected.recording}`);
      const sent = Buffer.from(await response.arrayBuffer());
      expect(sent.equals(readFileSync(path.join(FIXTURES, release, 'recordings', expected.recording ?? '')))).toBe(
        true,
      );
    },
  );

  const archive = path.join(FIXTURES, release, 'arrangement.crispfold.zip');
  it.runIf(existsSync(archive))('comes back from its archive, and goes out again', async () => {
    server = await startServer(newFile());
    const running = server;
    const brought = await ask(running, '/archive', upload(['a.zip', new Uint8Array(readFileSync(archive))]));
    expect(brought.status).toBe(201);
    const { body: open } = await ask(running, `/${brought.body.id}`);
    expect([open.arrangement.title, open.history.position]).toEqual([expected.title, expected.position]);
    expect(notesOf(open.arrangement)).toBe(expected.notes);
    const out = new Uint8Array(await (await fetch(`${running.base}/${brought.body.id}/archive`)).arrayBuffer());
    expect((await ask(running, '/archive', upload(['again.zip', out]))).status).toBe(201);
  });
});
