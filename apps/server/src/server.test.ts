import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { OpenArrangement } from '@crispfold/contract';
import {
  applyEdit,
  defaultPlan,
  demoArrangement,
  demoMidi,
  type Edit,
  importMidi,
  invertEdit,
  MOST_NOTES,
  MOST_RECORDINGS,
  moveNotes,
  planEdit,
  READY_SENTENCES,
  selectionOf,
  wavBytes,
  withGrid,
  withRecording,
} from '@crispfold/core';
import { createClient } from '@libsql/client';
import { desc, eq } from 'drizzle-orm';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createBackups } from './backup/backups.js';
import { createDemo } from './createDemo.js';
import { openDatabase } from './db/database.js';
import { arrangements, journal, plans as planTable, snapshots } from './db/schema.js';
import { ask, json, migrations, newFile, type Running, startServer, upload } from './testing/running.js';
import { smallSoundFont } from './testing/smallSoundFont.js';

const start = (file: string, token?: string, mostHistory?: number): Promise<Running> =>
  startServer(file, { ...(token ? { token } : {}), ...(mostHistory ? { mostHistory } : {}) });

let file: string;
let server: Running;
beforeEach(async () => {
  file = newFile();
  server = await start(file);
});
afterEach(() => server.stop());

const call = (address: string, init?: RequestInit) => ask(server, address, init);
/** A copy of what is on disk while the server runs: as after a kill. */
const asAfterAKill = (): string => {
  const copy = newFile();
  for (const ending of ['', '-wal']) copyFileSync(file + ending, copy + ending);
  return copy;
};
const addDemo = () => server.store.create(demoArrangement());
const open = async (id: string): Promise<OpenArrangement> => (await call(`/${id}`)).body;
const moveFirst = (opened: OpenArrangement, by = 10): Edit => {
  const part = opened.arrangement.parts[0];
  return moveNotes(opened.arrangement, selectionOf(part?.id ?? 0, [part?.notes[0]?.id ?? 0]), {
    byTicks: by,
    bySemitones: 0,
  }) as Edit;
};

describe('the library', () => {
  it('takes files in, lists them, and opens them', async () => {
    const created = await call('', upload(['Saltmarsh Lanterns.mid', demoMidi()]));
    expect(created).toMatchObject({ status: 201, body: { warnings: [] } });
    const { body: list } = await call('');
    expect(list).toMatchObject([{ id: created.body.open.id, title: 'Saltmarsh Lanterns', bars: 40 }]);
    expect(list[0].parts).toHaveLength(6);
    expect(created.body.open).toMatchObject({ revision: 0, history: { entries: [], position: 0, skipped: 0 } });
    expect((await open(created.body.open.id)).arrangement).toEqual(demoArrangement());
  });

  it('makes one arrangement of several files and keeps names beyond ASCII', async () => {
    const { body } = await call('', upload(['Flöte.mid', demoMidi()], ['b.mid', demoMidi()]));
    expect((await open(body.open.id)).arrangement.parts).toHaveLength(12);
  });

  it('renames, as an entry of the history', async () => {
    const id = await addDemo();
    expect((await call(`/${id}`, json({ title: ' Dusk ' }, 'PATCH'))).status).toBe(200);
    const opened = await open(id);
    expect(opened.arrangement.title).toBe('Dusk');
    expect(opened.history.entries).toHaveLength(1);
  });

  it('duplicates and deletes, and takes a deletion back', async () => {
    const id = await addDemo();
    const copy = (await call(`/${id}/duplicate`, { method: 'POST' })).body.id;
    expect((await open(copy)).arrangement.title).toBe('Saltmarsh Lanterns, copy');
    expect((await call(`/${id}`, { method: 'DELETE' })).status).toBe(204);
    expect((await call(`/${id}`)).status).toBe(410);
    expect((await call('')).body).toHaveLength(1);
    expect((await call(`/${id}/restore`, { method: 'POST' })).status).toBe(204);
    expect((await open(id)).arrangement.title).toBe('Saltmarsh Lanterns');
  });

  it('adds parts to an open arrangement and answers the change', async () => {
    const id = await addDemo();
    const { status, body } = await call(`/${id}/parts`, upload(['more.mid', demoMidi()]));
    expect(status).toBe(201);
    expect(body).toMatchObject({ revision: 1, edit: { label: 'Add 6 parts' } });
    expect((await open(id)).arrangement).toEqual(applyEdit(demoArrangement(), body.edit));
  });
});

describe('what an arrangement can hold', () => {
  const withNotes = (id: number, first: number, count: number) => ({
    ...demoArrangement().parts[0],
    id,
    notes: Array.from({ length: count }, (_, at) => ({
      id: first + at,
      pitch: 60,
      onset: at,
      duration: 1,
      velocity: 80,
      channel: 0,
    })),
    events: [],
  });
  const add = (part: object) => ({
    baseRevision: 0,
    entries: [{ kind: 'edit', edit: { label: 'Add', changes: [{ kind: 'partAdded', index: 0, part }] } }],
  });

  it('is asked before a change is taken: notes in all, and each note in one place', async () => {
    const id = await addDemo();
    const { arrangement } = await open(id);
    const many = await call(`/${id}/journal`, json(add(withNotes(90, arrangement.nextNoteId, MOST_NOTES))));
    expect(many).toMatchObject({ status: 422, body: { error: { code: 'tooManyNotes' } } });
    expect(many.body.error.message).toMatch(/holds 300,000 notes at most; this would make 300,\d{3}\. Nothing was/);
    const twice = await call(`/${id}/journal`, json(add(withNotes(90, 1, 1))));
    expect(twice).toMatchObject({ status: 422, body: { error: { code: 'sameNote' } } });
    expect((await open(id)).arrangement).toEqual(arrangement);
    const one = await call(`/${id}/journal`, json(add(withNotes(90, arrangement.nextNoteId, 1))));
    expect(one.status).toBe(200);
  });
});

describe('the journal', () => {
  it('has a change on disk before it answers, and the history after a restart', async () => {
    const id = await addDemo();
    const edit = moveFirst(await open(id));
    const saved = await call(
      `/${id}/journal`,
      json({
        baseRevision: 0,
        entries: [
          { kind: 'edit', edit },
          { kind: 'goTo', position: 0 },
          { kind: 'goTo', position: 1 },
        ],
      }),
    );
    expect(saved).toMatchObject({ status: 200, body: { revision: 3 } });
    const other = await start(asAfterAKill());
    const opened = (await (await fetch(`${other.base}/${id}`)).json()) as OpenArrangement;
    await other.stop();
    expect(opened.arrangement).toEqual(applyEdit(demoArrangement(), edit));
    expect(opened.history).toMatchObject({ position: 1, entries: [{ label: 'Move: 1 note in Flute' }] });
  });

  it('stands after many changes, across a new snapshot', async () => {
    const id = await addDemo();
    const edit = moveFirst(await open(id), 1);
    for (let revision = 0; revision < 450; revision += 150) {
      const entries = Array.from({ length: 150 }, (_, index) =>
        index === 0 && revision === 0 ? { kind: 'edit', edit } : { kind: 'goTo', position: index % 2 },
      );
      expect((await call(`/${id}/journal`, json({ baseRevision: revision, entries }))).status).toBe(200);
    }
    const before = await open(id);
    const other = await start(asAfterAKill());
    const opened = (await (await fetch(`${other.base}/${id}`)).json()) as OpenArrangement;
    await other.stop();
    expect(opened).toEqual(before);
    expect(opened.revision).toBe(450);
  });

  it('sends the newest entries of a long history, older ones on asking, and undoes past them', async () => {
    const id = await addDemo();
    const opened = await open(id);
    const [part] = opened.arrangement.parts;
    const edits = Array.from({ length: 320 }, (_, k) => ({ ...moveFirst(opened, 1), label: `Change ${k}` }));
    for (const [from, to] of [
      [0, 160],
      [160, 320],
    ] as const) {
      const entries = edits.slice(from, to).map((edit) => ({ kind: 'edit', edit }));
      expect((await call(`/${id}/journal`, json({ baseRevision: from, entries }))).status).toBe(200);
    }
    const { history } = await open(id);
    expect(history).toMatchObject({ position: 320, skipped: 220 });
    expect(history.entries.map((edit) => edit.label)).toEqual(edits.slice(220).map((edit) => edit.label));
    const older = (await call(`/${id}/history?before=220`)).body.entries as Edit[];
    expect(older.map((edit) => edit.label)).toEqual(edits.slice(20, 220).map((edit) => edit.label));
    expect((await call(`/${id}/history?before=x`)).status).toBe(400);
    const back = await call(`/${id}/journal`, json({ baseRevision: 320, entries: [{ kind: 'goTo', position: 0 }] }));
    expect(back.status).toBe(200);
    const undone = await open(id);
    expect(undone.arrangement.parts[0]?.notes).toEqual(part?.notes);
    expect(undone.history).toMatchObject({ position: 0, skipped: 0 });
  });

  it('finds the right entry at a place that was taken again after an undo, before and after a restart', async () => {
    const id = await addDemo();
    const edit = moveFirst(await open(id));
    const named = (label: string) => ({ kind: 'edit', edit: { ...edit, label } });
    const entries = [named('a'), named('b'), { kind: 'goTo', position: 1 }, named('c'), { kind: 'goTo', position: 0 }];
    await call(`/${id}/journal`, json({ baseRevision: 0, entries }));
    const other = await start(asAfterAKill());
    const opened = (await (await fetch(`${other.base}/${id}`)).json()) as OpenArrangement;
    await other.stop();
    expect(opened.history.entries.map(({ label }) => label)).toEqual(['a', 'c']);
    expect(opened.arrangement).toEqual(demoArrangement());
    expect(await open(id)).toEqual(opened);
  });

  /** A change of every note of the first part, up and down in turn. */
  const moveAll = (opened: Pick<OpenArrangement, 'arrangement'>, by: number): Edit => {
    const [part] = opened.arrangement.parts;
    return moveNotes(
      opened.arrangement,
      selectionOf(
        part?.id ?? 0,
        (part?.notes ?? []).map((note) => note.id),
      ),
      {
        byTicks: 0,
        bySemitones: by,
      },
    ) as Edit;
  };

  it('opens by the newest snapshot and a few changes after it, with names alone, however large the changes were', async () => {
    const id = await addDemo();
    let { arrangement } = await open(id);
    const moved = arrangement.parts[0]?.notes.length ?? 0;
    for (let at = 0; at < 330; at += 30) {
      const entries = Array.from({ length: 30 }, (_, index) => {
        const edit = moveAll({ arrangement }, (at + index) % 2 === 0 ? 1 : -1);
        arrangement = applyEdit(arrangement, edit);
        return { kind: 'edit' as const, edit };
      });
      expect((await call(`/${id}/journal`, json({ baseRevision: at, entries }))).status).toBe(200);
    }
    await server.stop();
    const database = await openDatabase(file, migrations);
    const [newest] = await database.db.select().from(snapshots).orderBy(desc(snapshots.revision)).limit(1);
    // A part’s notes a change: forty thousand notes' worth of changes are a snapshot, and two hundred changes at the latest.
    expect(newest?.revision).toBeGreaterThan(330 - 230);
    const rows = await database.db.select().from(journal);
    expect(Math.max(...rows.map((row) => row.packed?.length ?? 1e9))).toBeLessThan(2500);
    await database.close();
    server = await start(file);
    const opened = await open(id);
    expect(opened.arrangement).toEqual(arrangement);
    expect(opened.history).toMatchObject({ position: 330, skipped: 230, folded: 0 });
    expect(opened.history.entries.every(({ edit, touched }) => edit === null && touched === moved)).toBe(true);
    const page = (await call(`/${id}/edits?from=200&to=330&last=true`)).body;
    expect(page.from + page.edits.length).toBe(330);
    const back = invertEdit(page.edits.at(-1));
    expect(applyEdit(arrangement, back)).not.toEqual(arrangement);
    expect(
      (await call(`/${id}/journal`, json({ baseRevision: 330, entries: [{ kind: 'goTo', position: 0 }] }))).status,
    ).toBe(200);
    expect((await open(id)).arrangement).toEqual(demoArrangement());
  });

  it('sends Edits of rows that were never packed nor counted in small pages, and opens over them', async () => {
    const id = await addDemo();
    const opened = await open(id);
    const entries = [1, 2, 3, 4].map((by) => ({ kind: 'edit', edit: moveFirst(opened, by) }));
    await call(`/${id}/journal`, json({ baseRevision: 0, entries }));
    await server.stop();
    const database = await openDatabase(file, migrations);
    for (const [at, entry] of entries.entries()) {
      // As large as whole parts were when each note stood in a row twice; white space is no change.
      const text = JSON.stringify(entry) + ' '.repeat(6_000_000);
      await database.db
        .update(journal)
        .set({ entry: text, packed: null, touched: null })
        .where(eq(journal.revision, at + 1));
    }
    await database.close();
    server = await start(file);
    expect((await open(id)).arrangement).toEqual(
      entries.reduce((now, { edit }) => applyEdit(now, edit), demoArrangement()),
    );
    const page = (await call(`/${id}/edits?from=0&to=4&last=true`)).body;
    expect([page.from, page.edits.length]).toEqual([3, 1]);
    expect((await call(`/${id}/edits?from=0&to=4`)).body.edits).toHaveLength(1);
  });

  it('answers a request that comes again as the first time, and carries it out once', async () => {
    const id = await addDemo();
    const opened = await open(id);
    const named = (init: RequestInit, name: string): RequestInit => ({
      ...init,
      headers: { ...init.headers, 'crispfold-request': name },
    });
    const body = json({ baseRevision: 0, entries: [{ kind: 'edit', edit: moveFirst(opened) }] });
    const first = await call(`/${id}/journal`, named(body, 'request-one'));
    const again = await call(`/${id}/journal`, named(body, 'request-one'));
    expect(first.status).toBe(200);
    expect(again).toEqual(first);
    const other = await call(`/${id}/journal`, named(body, 'request-two'));
    expect(other.status).toBe(409);
    const parts = named(upload(['b.mid', demoMidi()]), 'request-three');
    const added = await call(`/${id}/parts`, parts);
    const twice = await call(`/${id}/parts`, named(upload(['b.mid', demoMidi()]), 'request-three'));
    expect([added.status, twice.status, twice.body.revision]).toEqual([201, 201, added.body.revision]);
    expect(twice.body.edit).toEqual(added.body.edit);
    expect((await open(id)).arrangement.parts).toHaveLength(12);
    const made = await call('', named(upload(['c.mid', demoMidi()]), 'request-four'));
    const madeAgain = await call('', named(upload(['c.mid', demoMidi()]), 'request-four'));
    expect(madeAgain.body.open.id).toBe(made.body.open.id);
    expect((await call(`/${id}/journal`, named(body, 'no name!'))).status).toBe(400);
  });

  it('folds the oldest entries of a history that is too large into points, and goes back exactly up to there', async () => {
    await server.stop();
    server = await start(file, undefined, 60_000);
    const id = await addDemo();
    let { arrangement } = await open(id);
    const after: (typeof arrangement)[] = [arrangement];
    for (let at = 0; at < 900; at += 20) {
      const entries = Array.from({ length: 20 }, (_, index) => {
        const [part] = arrangement.parts;
        const ids = (part?.notes ?? []).filter((_, place) => (place * 7 + at + index) % 5 < 2).map((note) => note.id);
        const edit = moveNotes(arrangement, selectionOf(part?.id ?? 0, ids), {
          byTicks: 1 + ((at * 31 + index * 17) % 90),
          bySemitones: index % 2 === 0 ? 1 : -1,
        }) as Edit;
        arrangement = applyEdit(arrangement, edit);
        after.push(arrangement);
        return { kind: 'edit' as const, edit };
      });
      expect((await call(`/${id}/journal`, json({ baseRevision: at, entries }))).status).toBe(200);
    }
    await server.stop();
    server = await start(file, undefined, 60_000);
    const opened = await open(id);
    const { folded = 0 } = opened.history;
    expect(opened.arrangement).toEqual(arrangement);
    expect(folded).toBeGreaterThan(100);
    expect(folded).toBeLessThan(900);
    // Nothing goes back beyond the fold; up to it, exactly.
    const goTo = (position: number, baseRevision: number) =>
      call(`/${id}/journal`, json({ baseRevision, entries: [{ kind: 'goTo', position }] }));
    expect((await goTo(folded - 1, 900)).status).toBe(422);
    expect((await goTo(folded, 900)).status).toBe(200);
    expect((await open(id)).arrangement).toEqual(after[folded]);
    expect((await goTo(900, 901)).status).toBe(200);
    expect((await open(id)).arrangement).toEqual(arrangement);
    const points = (await call(`/${id}/points`)).body as { revision: number; position: number }[];
    expect(points.at(-1)?.position).toBe(folded);
    const [oldest] = points;
    const back = await call(`/${id}/points/${oldest?.revision}`, { method: 'POST' });
    expect(back.status).toBe(200);
    expect((await open(id)).arrangement.parts).toEqual(after[oldest?.position ?? 0]?.parts);
    expect((await call(`/${id}/points/12345`, { method: 'POST' })).status).toBe(404);
  });

  it('keeps two snapshots, however many there were', async () => {
    const id = await addDemo();
    const edit = moveFirst(await open(id), 1);
    for (let revision = 0; revision < 900; revision += 100) {
      const entries = Array.from({ length: 100 }, () => ({ kind: 'edit', edit }));
      await call(`/${id}/journal`, json({ baseRevision: revision, entries }));
    }
    const { database } = server;
    const rows = await database.db.select({ revision: snapshots.revision }).from(snapshots);
    expect(rows.map((row) => row.revision).sort((a, b) => a - b)).toEqual([600, 800]);
  });

  it('brings an arrangement of an earlier form up to date, its journal and what can be undone with it', async () => {
    const demo = demoArrangement();
    const { nextEventId: _, ...header } = demo;
    const old = {
      ...header,
      parts: demo.parts.map((part) => ({ ...part, events: part.events.map(({ id: _id, ...event }) => event) })),
    };
    const vibraphone = old.parts.find((part) => part.events.length > 4);
    if (!vibraphone) throw new Error('the demo has a pedal');
    const plan = { ...defaultPlan(), version: 2 };
    const lines = [
      {
        label: 'Half the pedal',
        changes: [
          {
            kind: 'partFields',
            partId: vibraphone.id,
            before: { events: vibraphone.events },
            after: { events: vibraphone.events.slice(2) },
          },
        ],
      },
      { label: 'Plan', changes: [{ kind: 'partFields', partId: 1, before: {}, after: { plan } }] },
    ];
    const { database } = server;
    await database.db.insert(arrangements).values({
      id: 'oldoldoldold',
      summary: JSON.stringify({ title: 'Old', parts: [], bars: 1, seconds: 1 }),
      revision: 3,
      createdAt: '2026-01-01',
      changedAt: '2026-01-01',
    });
    await database.db
      .insert(snapshots)
      .values({ arrangementId: 'oldoldoldold', revision: 0, data: JSON.stringify(old) });
    const entries = [...lines.map((edit) => ({ kind: 'edit', edit })), { kind: 'goTo', position: 1 }];
    await database.db.insert(journal).values(
      entries.map((entry, index) => ({
        arrangementId: 'oldoldoldold',
        revision: index + 1,
        entry: JSON.stringify(entry),
        writtenAt: '2026-01-01',
      })),
    );
    const opened = await open('oldoldoldold');
    const pedals = (which: OpenArrangement) =>
      which.arrangement.parts.find((part) => part.id === vibraphone.id)?.events;
    expect(pedals(opened)).toHaveLength(vibraphone.events.length - 2);
    expect(opened.history).toMatchObject({
      position: 1,
      skipped: 0,
      entries: [{ label: 'Half the pedal' }, { label: 'Plan' }],
    });
    const undone = [{ kind: 'goTo', position: 0 }];
    expect((await call('/oldoldoldold/journal', json({ baseRevision: 3, entries: undone }))).status).toBe(200);
    expect(await open('oldoldoldold').then((all) => all.arrangement)).toEqual(demo);
    await call('/oldoldoldold/journal', json({ baseRevision: 4, entries: [{ kind: 'goTo', position: 2 }] }));
    const [first] = (await open('oldoldoldold')).arrangement.parts;
    expect(first?.plan).toEqual(defaultPlan());
  });

  it('tells the later of two windows, and drops nobody’s change', async () => {
    const id = await addDemo();
    const edit = moveFirst(await open(id));
    const body = json({ baseRevision: 0, entries: [{ kind: 'edit', edit }] });
    expect((await call(`/${id}/journal`, body)).status).toBe(200);
    const second = await call(`/${id}/journal`, body);
    expect(second).toMatchObject({ status: 409, body: { error: { code: 'changedElsewhere' } } });
    expect((await open(id)).revision).toBe(1);
  });

  it('gives each of many writes at once its turn', async () => {
    const id = await addDemo();
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_, k) => call(`/${id}`, json({ title: `Title ${k}` }, 'PATCH'))),
    );
    expect(answers.map((answer) => answer.body.revision).sort()).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
  });
});

describe('files on their way in', () => {
  it('of a server that was killed are cleared away at the next start, and of no other database', async () => {
    await server.stop();
    const left = path.join(server.workFolder, 'half a recording');
    const others = `${file}x.work`;
    writeFileSync(left, 'half');
    mkdirSync(others);
    server = await start(file);
    expect([existsSync(left), existsSync(others)]).toEqual([false, true]);
  });

  it('have names of any letters, and one that cannot be read is told', async () => {
    const named = async (name: string) => (await call('', upload([name, 'no music']))).body.error.message;
    expect(await named('My "best" tüne.mid')).toContain('My "best" tüne.mid');
    const raw =
      '--x\r\nContent-Disposition: form-data; name="files"; filename="my "best".mid"\r\n\r\nMThd\r\n--x--\r\n';
    const { status, body } = await call('', {
      method: 'POST',
      headers: { 'Content-Type': 'multipart/form-data; boundary=x' },
      body: raw,
    });
    expect(status).toBeGreaterThanOrEqual(400);
    expect(body.error.message).not.toContain('No file arrived');
  });
});

describe('a database that another program holds', () => {
  it('is told in words, without a query, and nothing is changed', async () => {
    const id = await addDemo();
    const other = createClient({ url: `file:${file}` });
    const held = await other.transaction('write');
    const { status, body } = await call(`/${id}`, json({ title: 'Dusk' }, 'PATCH'));
    expect([status, body.error.code]).toEqual([503, 'busy']);
    expect(body.error.message).not.toMatch(/insert|update|query|sqlite/i);
    await held.rollback();
    expect((await open(id)).arrangement.title).toBe('Saltmarsh Lanterns');
    expect((await call(`/${id}`, json({ title: 'Dusk' }, 'PATCH'))).status).toBe(200);
    // For a moment alone it is waited for.
    const again = await other.transaction('write');
    const [renamed] = await Promise.all([
      call(`/${id}`, json({ title: 'Dawn' }, 'PATCH')),
      new Promise((resolve) => setTimeout(resolve, 400)).then(() => again.rollback()),
    ]);
    expect(renamed.status).toBe(200);
    expect((await call(`/${id}/tags`, json({ tags: ['x'] }, 'PUT'))).status).toBe(204);
    other.close();
  });
});

describe('bad input', () => {
  it.each([
    ['a text file', upload(['notes.mid', 'not music']), 422, 'notMidi'],
    ['an empty file', upload(['empty.mid', '']), 422, 'empty'],
    ['a file over 20 MB', upload(['large.mid', new Uint8Array(21 * 1024 * 1024)]), 413, 'upload'],
    ['no file', upload(), 400, 'noFiles'],
    ['one bad among good', upload(['a.mid', demoMidi()], ['b.mid', 'text']), 422, 'notMidi'],
  ])('%s is told and leaves nothing behind', async (_name, init, status, code) => {
    const answer = await call('', init);
    expect(answer).toMatchObject({ status, body: { error: { code } } });
    expect(answer.body.error.message.length).toBeGreaterThan(15);
    expect((await call('')).body).toEqual([]);
  });

  const note = { id: 1, pitch: 60, onset: 0, duration: 10, velocity: 80, channel: 0 };
  const notesChange = (more: object) => ({ kind: 'notes', partId: 1, added: [], removed: [], changed: [], ...more });
  const edit = (...changes: object[]) => ({
    baseRevision: 0,
    entries: [{ kind: 'edit', edit: { label: 'Change', changes } }],
  });

  it.each([
    ['a pitch there is not', edit(notesChange({ added: [{ ...note, pitch: 128 }] }))],
    ['half a tick', edit(notesChange({ added: [{ ...note, onset: 0.5 }] }))],
    ['a note before the start', edit(notesChange({ removed: [{ ...note, onset: -1 }] }))],
    ['notes that are no list', edit(notesChange({ added: 'all' }))],
    ['a pair of two notes', edit(notesChange({ changed: [{ before: note, after: { ...note, id: 2 } }] }))],
    ['a change of no kind', edit({ kind: 'wish' })],
    [
      'a plan with a step there is not',
      edit({
        kind: 'partFields',
        partId: 1,
        before: {},
        after: { plan: { version: 3, name: '', steps: [{ step: 'sing', on: true, parameters: {} }], passages: [] } },
      }),
    ],
    ['no label', { baseRevision: 0, entries: [{ kind: 'edit', edit: { label: '', changes: [] } }] }],
    ['no entries', { baseRevision: 0, entries: [] }],
    ['a place that is no number', { baseRevision: 0, entries: [{ kind: 'goTo', position: 'back' }] }],
    ['nothing at all', {}],
  ])('a change with %s is refused', async (_name, body) => {
    const id = await addDemo();
    expect(await call(`/${id}/journal`, json(body))).toMatchObject({
      status: 400,
      body: { error: { code: 'invalid' } },
    });
    expect((await open(id)).revision).toBe(0);
  });

  it('malformed JSON, an empty title and unknown addresses', async () => {
    const id = await addDemo();
    const broken = { method: 'PATCH', headers: { 'Content-Type': 'application/json' }, body: '{"title":' };
    expect(await call(`/${id}`, broken)).toMatchObject({ status: 400, body: { error: { code: 'malformed' } } });
    expect((await call(`/${id}`, json({ title: '   ' }, 'PATCH'))).status).toBe(400);
    expect((await call('/nosucharrang')).status).toBe(404);
    expect((await call('/..%2F..%2Fetc')).status).toBe(404);
    expect((await call('/nosucharrang', { method: 'DELETE' })).status).toBe(404);
  });
});

describe('who may ask', () => {
  const raw = (headers: Record<string, string>, method = 'GET'): Promise<number> =>
    new Promise((resolve, reject) => {
      const sent = request(server.base, { method, headers }, (response) => {
        response.resume();
        resolve(response.statusCode ?? 0);
      });
      sent.on('error', reject);
      sent.end();
    });

  it('refuses another Host', async () => {
    expect(await raw({ Host: 'evil.example' })).toBe(421);
    expect(await raw({ Host: new URL(server.base).host })).toBe(200);
  });

  it('refuses changes from another site’s page', async () => {
    const { host } = new URL(server.base);
    expect(await raw({ Host: host, Origin: 'http://evil.example' }, 'POST')).toBe(403);
    expect(await raw({ Host: host, 'Sec-Fetch-Site': 'cross-site' }, 'DELETE')).toBe(403);
    // Let in, and then told that there is no form.
    expect(await raw({ Host: host, Origin: `http://${host}` }, 'POST')).toBe(415);
  });

  it('sends the usual headers', async () => {
    const response = await fetch(server.base);
    expect(response.headers.get('content-security-policy')).toContain("default-src 'self'");
    expect(response.headers.get('x-content-type-options')).toBe('nosniff');
    expect(response.headers.get('x-powered-by')).toBeNull();
  });

  it('asks for the access token where one is set', async () => {
    const guarded = await start(
      path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-db-')), 'g.sqlite'),
      'secret-token',
    );
    const status = async (init?: RequestInit, query = '') => (await fetch(guarded.base + query, init)).status;
    expect(await status()).toBe(401);
    expect(await status({ headers: { Authorization: 'Bearer wrong-token!' } })).toBe(401);
    expect(await status({ headers: { Authorization: 'Bearer secret-token' } })).toBe(200);
    // It is no part of an address, where it would lie in logs.
    expect(await status({}, '?token=secret-token')).toBe(401);
    await guarded.stop();
  });
});

describe('on a network', () => {
  const TOKEN = 'a+b/c= é%';
  let guarded: Running;
  beforeEach(async () => {
    guarded = await start(path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-db-')), 'g.sqlite'), TOKEN);
  });
  afterEach(() => guarded.stop());
  const at = (address: string, init: RequestInit = {}) =>
    fetch(new URL(address, guarded.base), { redirect: 'manual', ...init });
  const signIn = (token: string) =>
    at('/sign-in', {
      method: 'POST',
      headers: { 'Content-Type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ token }).toString(),
    });

  it('a page asks for the token once, whatever letters it has, and keeps it out of addresses and cookies', async () => {
    const asked = await at('/desk/abc', { headers: { Accept: 'text/html' } });
    expect([asked.status, asked.headers.get('location')]).toEqual([303, '/sign-in']);
    const page = await at('/sign-in');
    expect(await page.text()).toContain('<form method="post" action="/sign-in">');
    expect(page.headers.get('content-security-policy')).toContain("form-action 'self'");
    expect((await signIn('a b/c= é%')).status).toBe(401);
    const signed = await signIn(TOKEN);
    expect([signed.status, signed.headers.get('location')]).toEqual([303, '/']);
    const cookie = signed.headers.get('set-cookie') ?? '';
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Strict/);
    expect(cookie).not.toContain('a+b');
    const own = { headers: { Cookie: cookie.split(';')[0] ?? '' } };
    const list = await at('/api/arrangements', own);
    expect(list.status).toBe(200);
    expect(list.headers.get('cache-control')).toBe('no-store');
    expect((await at('/api/arrangements', { headers: { Cookie: 'crispfold=guess' } })).status).toBe(401);
  });
});

describe('an arrangement taken away with its history', () => {
  const zipOf = async (id: string) => {
    const response = await fetch(`${server.base}/${id}/archive`);
    expect(response.headers.get('content-disposition')).toContain('.crispfold.zip');
    return new Uint8Array(await response.arrayBuffer());
  };

  it('comes back the same, with each entry to go back to', async () => {
    const id = await addDemo();
    const opened = await open(id);
    const edits = [moveFirst(opened, 10), moveFirst(opened, 25)];
    const entries = edits.map((edit) => ({ kind: 'edit', edit }));
    await call(`/${id}/journal`, json({ baseRevision: 0, entries: [...entries, { kind: 'goTo', position: 1 }] }));
    const bytes = await zipOf(id);
    const back = await call('/archive', upload(['Saltmarsh Lanterns.crispfold.zip', bytes]));
    expect(back.status).toBe(201);
    expect(back.body.id).not.toBe(id);
    const again = await open(back.body.id);
    const now = await open(id);
    expect(again.arrangement).toEqual(now.arrangement);
    expect(again.history).toEqual(now.history);
    const goTo = (position: number, baseRevision: number) =>
      call(`/${back.body.id}/journal`, json({ baseRevision, entries: [{ kind: 'goTo', position }] }));
    expect((await goTo(0, 2)).status).toBe(200);
    expect((await open(back.body.id)).arrangement).toEqual(demoArrangement());
    expect((await goTo(2, 3)).status).toBe(200);
    expect((await open(back.body.id)).arrangement).toEqual(edits.reduce(applyEdit, demoArrangement()));
    // Anybody can read it: the music lies beside it as MIDI.
    expect(importMidi([{ name: 'a.mid', bytes: unzipSync(bytes)['as played.mid'] as Uint8Array }]).ok).toBe(true);
  });

  it('has of a very long history the changes around where it stands', async () => {
    const id = await addDemo();
    const opened = await open(id);
    const entries = Array.from({ length: 9 }, (_, at) => ({ kind: 'edit' as const, edit: moveFirst(opened, at + 1) }));
    await call(`/${id}/journal`, json({ baseRevision: 0, entries: [...entries, { kind: 'goTo', position: 6 }] }));
    const whole = await server.store.takeAway(id);
    expect([whole.entries.length, whole.position]).toEqual([9, 6]);
    const size = JSON.stringify(whole.entries[0]).length + 2;
    const few = await server.store.takeAway(id, 4 * size);
    expect(few.entries).toEqual(whole.entries.slice(2, 6));
    expect(few.position).toBe(4);
    const more = await server.store.takeAway(id, 8 * size);
    expect([more.entries, more.position]).toEqual([whole.entries.slice(0, 8), 6]);
    const back = await server.store.bringBack(few);
    expect((await server.store.open(back)).arrangement).toEqual((await open(id)).arrangement);
  });

  it('is checked on the way in, to the last record', async () => {
    const id = await addDemo();
    const files = unzipSync(await zipOf(id));
    const messageFor = async (change: (all: typeof files) => void): Promise<string> => {
      const all = { ...files };
      change(all);
      const { status, body } = await call('/archive', upload(['a.zip', zipSync(all)]));
      expect(status).toBe(422);
      return body.error.message;
    };
    const set = (name: string, change: (value: never) => unknown) => (all: typeof files) => {
      all[name] = strToU8(JSON.stringify(change(JSON.parse(strFromU8(all[name] as Uint8Array)) as never)));
    };
    expect((await call('/archive', upload(['a.zip', 'no zip']))).body.error.message).toContain('no zip file');
    expect(await messageFor((all) => delete all['history.json'])).toContain('history.json');
    expect(await messageFor(set('crisp-fold.json', (head: object) => ({ ...head, version: 9 })))).toContain('newer');
    expect(await messageFor(set('crisp-fold.json', (head: object) => ({ ...head, position: 4 })))).toContain(
      'not whole',
    );
    expect(
      await messageFor(
        set('arrangement.json', (value: { parts: { notes: { pitch: number }[] }[] }) => {
          const [note] = value.parts[0]?.notes ?? [];
          if (note) note.pitch = 200;
          return value;
        }),
      ),
    ).toContain('not a note');
    expect(await messageFor(set('arrangement.json', (value: object) => ({ ...value, evil: 1 })))).toContain('evil');
  });
});

describe('pages', () => {
  const asks = {
    what: 'score',
    partIds: null,
    concertPitch: false,
    order: 'own',
    paper: 'a4',
    staff: null,
    barNumbers: 'systems',
    restingStaves: 'shown',
    bars: null,
    composer: '',
    arranger: '',
  };
  const pages = async (id: string, body: object) => fetch(`${server.base}/${id}/pages`, json(body));

  it('come as a PDF, or the parts in one zip, under the piece’s name', async () => {
    const id = await addDemo();
    const score = await pages(id, asks);
    expect(score.headers.get('content-type')).toBe('application/pdf');
    expect(score.headers.get('content-disposition')).toContain('filename="Saltmarsh Lanterns.pdf"');
    expect(
      Buffer.from(await score.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
    const parts = await pages(id, { ...asks, what: 'parts', partIds: [1, 3] });
    expect(parts.headers.get('content-disposition')).toContain('Saltmarsh Lanterns, parts.zip');
    const files = unzipSync(new Uint8Array(await parts.arrayBuffer()));
    expect(Object.keys(files)).toEqual(['01 Flute.pdf', '02 Horn in F.pdf']);
  });

  it('are refused in words where the wish is none, the part is not there, or the piece is not', async () => {
    const id = await addDemo();
    expect((await pages(id, { ...asks, staff: 0.2 })).status).toBe(400);
    expect((await pages(id, { ...asks, paper: 'napkin' })).status).toBe(400);
    expect((await pages(id, { ...asks, barNumbers: 'each' })).status).toBe(400);
    const beyond = await pages(id, { ...asks, bars: { first: 900, last: 901 } });
    expect((await beyond.json()).error.message).toMatch(/^These bars are not in the piece/);
    const none = await pages(id, { ...asks, partIds: [99] });
    expect(none.status).toBe(422);
    expect((await none.json()).error.message).toMatch(/^No part was chosen/);
    expect((await pages('nothing', asks)).status).toBe(404);
  });
});

describe('sentences', () => {
  const sentences = (address = '', init?: RequestInit) => call(`/../sentences${address}`, init);
  const [mine] = READY_SENTENCES;

  it('are kept by name with their keys, replaced, listed and taken out', async () => {
    const address = `/${encodeURIComponent(mine?.name ?? '')}`;
    expect((await sentences(address, json(mine, 'PUT'))).status).toBe(204);
    await sentences(address, json({ ...mine, key: 'b' }, 'PUT'));
    expect((await sentences()).body).toEqual([{ ...mine, key: 'b' }]);
    expect((await sentences(address, { method: 'DELETE' })).status).toBe(204);
    expect((await sentences(address, { method: 'DELETE' })).body).toMatchObject({
      error: { message: 'There is no such sentence.' },
    });
  });

  it('are checked to the last parameter', async () => {
    const wrong = { ...mine, lines: [{ where: [], do: [{ kind: 'addVelocity', parameters: { by: 'much' } }] }] };
    expect(await sentences('/wrong', json(wrong, 'PUT'))).toMatchObject({ status: 400 });
    expect(await sentences('/none', json({ ...mine, lines: [] }, 'PUT'))).toMatchObject({ status: 400 });
    expect((await sentences()).body).toEqual([]);
  });
});

describe('feels', () => {
  const feels = (address = '', init?: RequestInit) => call(`/../feels${address}`, init);
  const mine = { name: 'Laid back', bar: 16, places: [{ sixteenth: 4, late: 22.5, louder: -3, met: 9 }] };

  it('are kept by name, replaced, listed and taken out', async () => {
    const address = `/${encodeURIComponent(mine.name)}`;
    expect((await feels(address, json({ ...mine, bar: 12 }, 'PUT'))).status).toBe(204);
    expect((await feels(address, json(mine, 'PUT'))).status).toBe(204);
    expect((await feels()).body).toEqual([mine]);
    expect((await feels(address, { method: 'DELETE' })).status).toBe(204);
    expect(await feels(address, { method: 'DELETE' })).toMatchObject({ status: 404 });
    expect((await feels()).body).toEqual([]);
  });

  it.each([
    ['a place that its bar has not', { ...mine, places: [{ sixteenth: 16, late: 0, louder: 0, met: 3 }] }],
    ['no place', { ...mine, places: [] }],
    ['a lateness of minutes', { ...mine, places: [{ sixteenth: 0, late: 90_000, louder: 0, met: 3 }] }],
    ['something else in it', { ...mine, colour: 'red' }],
  ])('are checked: %s', async (_what, wrong) => {
    expect(await feels('/wrong', json(wrong, 'PUT'))).toMatchObject({ status: 400 });
    expect((await feels()).body).toEqual([]);
  });
});

describe('plans', () => {
  const plans = (address = '', init?: RequestInit) => call(`/../plans${address}`, init);
  const mine = { ...withGrid(defaultPlan(), 1 / 8), name: 'Eighths only' };

  it('are kept by name, replaced, listed and taken out', async () => {
    expect((await plans(`/${encodeURIComponent('Eighths only')}`, json(mine, 'PUT'))).status).toBe(204);
    expect((await plans()).body).toEqual([mine]);
    const changed = withGrid(mine, 1 / 16);
    await plans(`/${encodeURIComponent('Eighths only')}`, json(changed, 'PUT'));
    expect((await plans()).body).toEqual([changed]);
    expect((await plans(`/${encodeURIComponent('Eighths only')}`, { method: 'DELETE' })).status).toBe(204);
    expect((await plans()).body).toEqual([]);
    expect((await plans('/nothing', { method: 'DELETE' })).status).toBe(404);
  });

  it('of an earlier version are read as they were meant', async () => {
    await plans(`/${encodeURIComponent(mine.name)}`, json(mine, 'PUT'));
    const overlaps = { step: 'trimOverlaps', on: true, parameters: { against: 'nextChord', leave: 0 } };
    const { database } = server;
    await database.db.update(planTable).set({ data: JSON.stringify({ ...mine, version: 2, steps: [overlaps] }) });
    const meant = { ...overlaps, parameters: { against: 'anyPitch', leave: 0 } };
    expect((await plans()).body).toEqual([{ ...mine, steps: [meant] }]);
  });

  it('that are damaged are left out, and the others are there', async () => {
    await plans(`/${encodeURIComponent(mine.name)}`, json(mine, 'PUT'));
    for (const data of ['{"version":', '{}', '{"version":3,"name":"x","steps":7}']) {
      const { database } = server;
      await database.db.insert(planTable).values({ name: data, data, changedAt: '' });
    }
    expect((await plans()).body).toEqual([mine]);
  });

  it('come as JSON, or not at all', async () => {
    const text = { method: 'PUT', headers: { 'Content-Type': 'text/plain' }, body: JSON.stringify(mine) };
    expect((await plans('/x', text)).status).toBe(415);
    expect((await plans('/x', { method: 'PUT' })).status).toBe(415);
    expect((await plans()).body).toEqual([]);
  });

  it('are checked to the last parameter', async () => {
    const wrong = { ...mine, steps: [{ step: 'merge', on: true, parameters: { gap: null, velocity: 'softest' } }] };
    expect(await plans('/wrong', json(wrong, 'PUT'))).toMatchObject({ status: 400 });
    expect((await plans()).body).toEqual([]);
  });

  it('a part keeps its own, with vetoes and dismissals, over a restart', async () => {
    const id = await addDemo();
    const opened = await open(id);
    const part = opened.arrangement.parts[0];
    if (!part) throw new Error('no part');
    const edit = planEdit(part, mine, 'Plan');
    const veto = {
      label: 'Leave alone',
      changes: [
        {
          kind: 'partFields',
          partId: part.id,
          before: { vetoes: [], dismissed: [] },
          after: { vetoes: [{ noteId: 3, step: 'merge' }], dismissed: ['specks:4'] },
        },
      ],
    };
    const entries = [edit, veto].map((entry) => ({ kind: 'edit', edit: entry }));
    expect((await call(`/${id}/journal`, json({ baseRevision: 0, entries }))).status).toBe(200);
    await server.stop();
    server = await start(file);
    expect((await open(id)).arrangement.parts[0]).toMatchObject({
      plan: mine,
      vetoes: [{ noteId: 3, step: 'merge' }],
      dismissed: ['specks:4'],
    });
  });
});

describe('recordings beside the notes', () => {
  const wav = wavBytes({ rate: 8000, data: Float32Array.from({ length: 800 }, (_, at) => Math.sin(at / 5)) });
  const folder = () => server.recordings.files.folder;
  /** The files there, without lists and notes. */
  const keptIn = (at = folder()) =>
    existsSync(at) ? readdirSync(at).filter((name) => /^[0-9a-f]{64}$/.test(name)) : [];
  const hash = createHash('sha256').update(wav).digest('hex');
  const bytesOf = async (address: string): Promise<Buffer> =>
    Buffer.from(await (await fetch(server.base + address)).arrayBuffer());

  it('are kept in a folder beside the database, and come back byte for byte, also in part', async () => {
    const id = await addDemo();
    const kept = await call(`/${id}/recordings`, upload(['take.wav', wav]));
    expect(kept.status).toBe(201);
    expect(keptIn()).toEqual([hash]);
    const address = `/${id}/recordings/${kept.body.id}`;
    expect(await bytesOf(address)).toEqual(Buffer.from(wav));
    const part = await fetch(server.base + address, { headers: { Range: 'bytes=0-3' } });
    expect([part.status, await part.text(), part.headers.get('Content-Type')]).toEqual([206, 'RIFF', 'audio/wav']);
  });

  it.each([
    ['a text that is called .wav', 'take.wav', 'My song, take one, in words'],
    ['a file of 0 bytes', 'take.mp3', ''],
    ['a MIDI file', 'take.ogg', demoMidi()],
    ['a file cut in its first line', 'take.flac', 'fLaC'],
  ])('are refused where they are none: %s', async (_, name, bytes) => {
    const id = await addDemo();
    const { status, body } = await call(`/${id}/recordings`, upload([name, bytes]));
    expect([status, body.error.code]).toEqual([422, 'noRecording']);
    expect(body.error.message).toContain('neither wav, flac, mp3 nor ogg');
    expect(keptIn()).toEqual([]);
  });

  it('belong to their arrangement alone, are shared with its copy, and go with the last of them', async () => {
    const [id, other] = [await addDemo(), await addDemo()];
    const { body: kept } = await call(`/${id}/recordings`, upload(['take.wav', wav]));
    expect((await call(`/${other}/recordings/${kept.id}`)).status).toBe(404);
    expect((await call(`/${id}/recordings/nothing`)).status).toBe(404);
    const { body: copy } = await call(`/${id}/duplicate`, { method: 'POST' });
    expect(await bytesOf(`/${copy.id}/recordings/${kept.id}`)).toEqual(Buffer.from(wav));
    const dropped = async (gone: string, day: number) => {
      await call(`/${gone}`, { method: 'DELETE' });
      await server.store.emptyBin(new Date(Date.now() + 31 * 86_400_000));
      await server.recordings.files.clearUnnamed(new Date(Date.now() + day * 86_400_000));
      return keptIn();
    };
    expect(await dropped(id, 40)).toEqual([hash]);
    expect(await dropped(copy.id, 80)).toEqual([hash]);
    // Thirty days after it was first found that nobody names it.
    expect(await dropped(copy.id, 109)).toEqual([hash]);
    expect(await dropped(copy.id, 111)).toEqual([]);
  });

  it('are twenty at most for one arrangement, and none for one that is not there', async () => {
    const id = await addDemo();
    for (let take = 0; take < MOST_RECORDINGS; take += 1)
      expect((await call(`/${id}/recordings`, upload(['take.wav', wav]))).status).toBe(201);
    const { status, body } = await call(`/${id}/recordings`, upload(['take.wav', wav]));
    expect([status, body.error.code]).toEqual([422, 'tooManyRecordings']);
    expect((await call('/aaaaaaaaaaaa/recordings', upload(['take.wav', wav]))).status).toBe(404);
  });

  it('lie beside the notes by an Edit that is checked, and are undone', async () => {
    const opened = await open(await addDemo());
    const beside = { id: 'aaaaaaaaaaaa', name: 'take.wav', seconds: 9, offset: -1.5, level: 0.5 };
    const edit = withRecording(opened.arrangement, 'Recording', beside);
    const sent = (entry: Edit, baseRevision: number) =>
      call(`/${opened.id}/journal`, json({ baseRevision, entries: [{ kind: 'edit', edit: entry }] }));
    expect((await sent(edit, 0)).status).toBe(200);
    expect((await open(opened.id)).arrangement.recording).toEqual(beside);
    expect((await sent(withRecording(opened.arrangement, 'Bad', { ...beside, id: '../../etc' }), 1)).status).toBe(400);
    expect((await sent(withRecording(opened.arrangement, 'Bad', { ...beside, level: 2 }), 1)).status).toBe(400);
    expect((await sent(invertEdit(edit), 1)).status).toBe(200);
    await server.stop();
    server = await start(file);
    expect((await open(opened.id)).arrangement.recording).toBeNull();
  });

  it('come with the demo, silent, where the players began', async () => {
    const opened = await open(await createDemo(server.store, server.recordings, server.workFolder));
    const { recording } = opened.arrangement;
    expect(recording).toMatchObject({ offset: -1.37, muted: true });
    expect((await bytesOf(`/${opened.id}/recordings/${recording?.id}`)).subarray(0, 4).toString()).toBe('RIFF');
  });

  it('are in a backup where it is wished, and not otherwise', async () => {
    const id = await addDemo();
    await call(`/${id}/recordings`, upload(['take.wav', wav]));
    const backup = server.base.replace('arrangements', 'backup');
    const files = unzipSync(new Uint8Array(await (await fetch(`${backup}?recordings=true`)).arrayBuffer()));
    expect(Object.keys(files).sort()).toEqual(['crispfold.sqlite', `recordings/${hash}`]);
    expect(Buffer.from(files[`recordings/${hash}`] as Uint8Array)).toEqual(Buffer.from(wav));
    const plain = Buffer.from(await (await fetch(backup)).arrayBuffer());
    expect(plain.subarray(0, 6).toString()).toBe('SQLite');
    const nightly = createBackups(file, {
      workFolder: server.workFolder,
      recordings: () => server.recordings.all(),
      nightlyRecordings: true,
    });
    await nightly.nightly();
    expect(readdirSync(path.join(path.dirname(file), 'backups', 'test.sqlite', 'recordings'))).toEqual([hash]);
  });
});

describe('the SoundFont', () => {
  const at = (rest = '') => server.base.replace('arrangements', 'soundfont') + rest;
  const font = Buffer.from(smallSoundFont());

  it('is kept beside the database, comes back, gives way to another, and goes', async () => {
    expect(await (await fetch(at())).json()).toBeNull();
    const first = await (await fetch(at(), upload(['Hall.sf2', font]))).json();
    expect(first).toMatchObject({ name: 'Hall.sf2', bytes: font.length });
    expect(Buffer.from(await (await fetch(at(`/${first.id}`))).arrayBuffer())).toEqual(font);
    const second = await (await fetch(at(), upload(['Room.sf3', font]))).json();
    expect(await (await fetch(at())).json()).toEqual(second);
    expect((await fetch(at(`/${first.id}`))).status).toBe(404);
    expect((await fetch(at(), { method: 'DELETE' })).status).toBe(204);
    expect(await (await fetch(at())).json()).toBeNull();
  });

  it('is refused where it is none, and the one before stays', async () => {
    const kept = await (await fetch(at(), upload(['Hall.sf2', font]))).json();
    for (const bad of ['some words in a file', '', Buffer.from('RIFF\0\0\0\0WAVEfmt ')]) {
      const answer = await fetch(at(), upload(['Bad.sf2', bad]));
      expect([answer.status, (await answer.json()).error.code]).toEqual([422, 'noSoundFont']);
    }
    expect(await (await fetch(at())).json()).toEqual(kept);
  });
});

describe('the bin and the tags of the library', () => {
  it('lists what was deleted with the day it goes; it comes back, or goes for good with its recordings', async () => {
    const [id, other] = [await addDemo(), await addDemo()];
    const wav = wavBytes({ rate: 8000, data: new Float32Array(99) });
    await call(`/${id}/recordings`, upload(['take.wav', wav]));
    await call(`/${id}`, { method: 'DELETE' });
    const { body } = await call('/bin');
    expect(body).toHaveLength(1);
    expect(body[0]).toMatchObject({ id, title: 'Saltmarsh Lanterns' });
    expect(Date.parse(body[0].goesAt) - Date.parse(body[0].deletedAt)).toBe(30 * 86_400_000);
    expect((await call(`/bin/${other}`, { method: 'DELETE' })).status).toBe(404);
    expect((await call(`/${id}/restore`, { method: 'POST' })).status).toBe(204);
    expect((await call('/bin')).body).toEqual([]);
    await call(`/${id}`, { method: 'DELETE' });
    expect((await call(`/bin/${id}`, { method: 'DELETE' })).status).toBe(204);
    expect((await call('/bin')).body).toEqual([]);
    expect((await call(`/${id}/restore`, { method: 'POST' })).status).toBe(404);
    expect(await server.recordings.all()).toEqual([]);
    expect((await call('/')).body.map((item: { id: string }) => item.id)).toEqual([other]);
  });

  it('keeps tags, each once, over a restart; others are refused in words', async () => {
    const id = await addDemo();
    expect((await call(`/${id}/tags`, json({ tags: ['Spring', 'quartet', 'spring'] }, 'PUT'))).status).toBe(204);
    await server.stop();
    server = await start(file);
    expect((await call('/')).body[0].tags).toEqual(['spring', 'quartet']);
    for (const tags of ['spring', [''], ['x'.repeat(41)], Array(21).fill(0).map(String), [{}]]) {
      const { status, body } = await call(`/${id}/tags`, json({ tags }, 'PUT'));
      expect([status, typeof body?.error?.message]).toEqual([400, 'string']);
    }
    expect((await call('/aaaaaaaaaaaa/tags', json({ tags: [] }, 'PUT'))).status).toBe(404);
  });

  it('keeps what the Desk found, and says when it was changed since', async () => {
    const id = await addDemo();
    const glanceNow = async () => (await call('/')).body[0].glance;
    expect(await glanceNow()).toBeNull();
    const glance = { findings: 34, wrong: 2, reads: { before: 9.8, after: 3.1 } };
    expect((await call(`/${id}/glance`, json(glance, 'PUT'))).status).toBe(204);
    expect(await glanceNow()).toEqual({ ...glance, changedSince: false });
    expect((await call(`/${id}`, json({ title: 'Otherwise' }, 'PATCH'))).status).toBeLessThan(300);
    expect((await glanceNow()).findings).toBe(34);
    for (const bad of [{}, { ...glance, findings: -1 }, { ...glance, reads: 4 }, { ...glance, more: 1 }]) {
      const { status, body } = await call(`/${id}/glance`, json(bad, 'PUT'));
      expect([status, typeof body?.error?.message]).toEqual([400, 'string']);
    }
    expect((await call('/aaaaaaaaaaaa/glance', json(glance, 'PUT'))).status).toBe(404);
  });
});
