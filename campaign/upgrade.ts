/** A database of earlier releases, brought up to date by a server that is killed half-way: all of it is there, and can be undone. */
import { copyFileSync, cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import {
  type Arrangement,
  applyEdit,
  demoArrangement,
  type Edit,
  moveNotes,
  selectionOf,
  slimEdit,
} from '@crispfold/core';
import { createClient } from '@libsql/client';
import { drizzle } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { asJson, chanceOf, type Tally, Tried } from './server.js';

/** The migrations that the release before packed rows had. */
const EARLIER_MIGRATIONS = 4;
/** So many arrangements in each earlier form, each with so many changes of a whole part. */
const ARRANGEMENTS = 4;
const CHANGES = 60;

interface Made {
  readonly id: string;
  readonly first: Arrangement;
  readonly last: Arrangement;
}

const asSent = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

/** Migrations up to a number of them, in a folder of their own. */
const earlierMigrations = (): string => {
  const folder = mkdtempSync(path.join(tmpdir(), 'crispfold-migrations-'));
  cpSync(path.resolve('apps/server/migrations'), folder, { recursive: true });
  const list = path.join(folder, 'meta', '_journal.json');
  const { entries, ...head } = JSON.parse(readFileSync(list, 'utf8')) as { entries: unknown[] };
  writeFileSync(list, JSON.stringify({ ...head, entries: entries.slice(0, EARLIER_MIGRATIONS) }));
  return folder;
};

/** The changes, as whole notes before and after; and what they lead to. */
const changesOf = (first: Arrangement): { readonly edits: readonly Edit[]; readonly last: Arrangement } => {
  const edits: Edit[] = [];
  let last = first;
  for (let at = 0; at < CHANGES; at += 1) {
    const part = last.parts[at % last.parts.length];
    const ids = part?.notes.map(({ id }) => id) ?? [];
    const edit = moveNotes(last, selectionOf(part?.id ?? 0, ids), { byTicks: 1, bySemitones: 0 });
    if (!edit) continue;
    edits.push(edit);
    last = applyEdit(last, edit);
  }
  return { edits, last };
};

/** Writes a database as earlier releases did: rows of JSON, of form 1 (messages without ids) and of form 2. */
const writeEarlier = async (file: string): Promise<Made[]> => {
  const client = createClient({ url: `file:${file}` });
  await migrate(drizzle(client), { migrationsFolder: earlierMigrations() });
  const first = demoArrangement();
  const { edits, last } = changesOf(first);
  const { nextEventId: _, ...header } = first;
  const parts = first.parts.map((part) => ({ ...part, events: part.events.map(({ id: _id, ...event }) => event) }));
  const made: Made[] = [];
  const when = '2026-01-01T00:00:00.000Z';
  for (let at = 0; at < 2 * ARRANGEMENTS; at += 1) {
    const form = 1 + (at % 2);
    const id = `earlier0000${at}`;
    const data = JSON.stringify(form === 1 ? { ...header, parts } : first);
    await client.batch(
      [
        {
          sql: 'insert into arrangements (id, summary, revision, position, length, form, created_at, changed_at) values (?, ?, ?, ?, ?, ?, ?, ?)',
          args: [
            id,
            '{"title":"Earlier","parts":[],"bars":1,"seconds":1}',
            edits.length,
            edits.length,
            edits.length,
            form,
            when,
            when,
          ],
        },
        { sql: 'insert into snapshots (arrangement_id, revision, data) values (?, 0, ?)', args: [id, data] },
        ...edits.map((edit, place) => ({
          sql: 'insert into journal (arrangement_id, revision, entry, place, label, written_at) values (?, ?, ?, ?, ?, ?)',
          args: [
            id,
            place + 1,
            JSON.stringify({ kind: 'edit', edit }),
            form === 1 ? 0 : place,
            form === 1 ? null : edit.label,
            when,
          ],
        })),
      ],
      'write',
    );
    made.push({ id, first, last });
  }
  client.close();
  return made;
};

export const upgraded = async (more: () => boolean): Promise<Tally> => {
  const chance = chanceOf(61);
  const problems: string[] = [];
  const counts = { upgrades: 0, kills: 0, beforeItAnswered: 0 };
  const server = new Tried();
  const earlier = path.join(server.folder, 'earlier.sqlite');
  const made = await writeEarlier(earlier);
  const opened = (id: string) =>
    server
      .ask(`/api/arrangements/${id}`)
      .then(({ body }) => body as { revision: number; arrangement: Arrangement; history: { position: number } });
  while (more() && problems.length === 0) {
    for (const ending of ['-wal', '-shm', '.lock']) rmSync(server.file + ending, { force: true });
    copyFileSync(earlier, server.file);
    const kills = 1 + Math.floor(chance() * 3);
    for (let kill = 0; kill < kills; kill += 1) {
      const started = server.start().then(
        () => true,
        () => false,
      );
      const opening = started.then(async (answers) => {
        if (!answers) counts.beforeItAnswered += 1;
        else for (const { id } of made) await opened(id).catch(() => undefined);
      });
      // In the midst of the tables, or of the arrangements that are brought up to date when they are opened.
      if (chance() < 0.5) await started;
      await new Promise((resolve) => setTimeout(resolve, chance() * 700));
      await server.end('SIGKILL');
      await opening;
      counts.kills += 1;
    }
    await server.start();
    for (const { id, first, last } of made) {
      const { revision, arrangement, history } = await opened(id);
      const fits = revision === CHANGES && history?.position === CHANGES;
      if (!fits || !isDeepStrictEqual(arrangement, asSent(last))) {
        problems.push(`${id} came out otherwise after ${counts.upgrades} upgrades`);
        continue;
      }
      await server.ask(
        `/api/arrangements/${id}/journal`,
        asJson({ baseRevision: revision, entries: [{ kind: 'goTo', position: 0 }] }),
      );
      const undone = (await opened(id)).arrangement;
      if (!isDeepStrictEqual(undone, asSent(first))) problems.push(`${id} cannot be taken back to its beginning`);
    }
    const added = await server.ask(
      `/api/arrangements/${made[0]?.id}/journal`,
      asJson({
        baseRevision: CHANGES + 1,
        entries: [{ kind: 'edit', edit: slimEdit({ label: 'After', changes: [] }) }],
      }),
    );
    if (added.status !== 200) problems.push(`a change after the upgrade was answered ${added.status}`);
    await server.end(chance() < 0.5 ? 'SIGKILL' : 'SIGTERM');
    counts.upgrades += 1;
  }
  return { ...counts, problems };
};
