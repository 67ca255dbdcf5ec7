import { mkdtempSync } from 'node:fs';
import { request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { OpenArrangement } from '@crispfold/contract';
import {
  applyEdit,
  defaultPlan,
  demoArrangement,
  demoMidi,
  type Edit,
  moveNotes,
  planEdit,
  READY_SENTENCES,
  selectionOf,
  withGrid,
} from '@crispfold/core';
import { pino } from 'pino';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createApp } from './app.js';
import { ArrangementStore } from './arrangementStore.js';
import { type Database, openDatabase } from './db/database.js';
import { arrangements, journal, plans as planTable, snapshots } from './db/schema.js';

const migrations = path.resolve(import.meta.dirname, '../migrations');
const log = pino({ level: 'silent' });

interface Running {
  readonly base: string;
  readonly store: ArrangementStore;
  stop(): Promise<void>;
}

const start = async (file: string, token?: string): Promise<Running> => {
  const database: Database = await openDatabase(file, migrations);
  const store = new ArrangementStore(database.db);
  const server = createApp({ store, db: database.db, log, webFolder: '/nowhere', token }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  return {
    base: `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/arrangements`,
    store,
    stop: async () => {
      await new Promise((resolve) => server.close(resolve));
      database.close();
    },
  };
};

let file: string;
let server: Running;
beforeEach(async () => {
  file = path.join(mkdtempSync(path.join(tmpdir(), 'crispfold-db-')), 'test.sqlite');
  server = await start(file);
});
afterEach(() => server.stop());

const json = (body: unknown, method = 'POST'): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});
const upload = (...files: [string, Uint8Array | string][]): RequestInit => {
  const form = new FormData();
  for (const [name, bytes] of files) form.append('files', new File([bytes as Uint8Array<ArrayBuffer>], name));
  return { method: 'POST', body: form };
};
const call = async (address: string, init?: RequestInit) => {
  const response = await fetch(server.base + address, init);
  const text = await response.text();
  return { status: response.status, body: text ? JSON.parse(text) : undefined };
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
    expect((await call(`/${id}`)).status).toBe(404);
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
    // A second server on the same file reads what is on disk while the first still runs: as after a kill.
    const other = await start(file);
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
    const other = await start(file);
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
    const other = await start(file);
    const opened = (await (await fetch(`${other.base}/${id}`)).json()) as OpenArrangement;
    await other.stop();
    expect(opened.history.entries.map(({ label }) => label)).toEqual(['a', 'c']);
    expect(opened.arrangement).toEqual(demoArrangement());
    expect(await open(id)).toEqual(opened);
  });

  it('keeps two snapshots, however many there were', async () => {
    const id = await addDemo();
    const edit = moveFirst(await open(id), 1);
    for (let revision = 0; revision < 900; revision += 100) {
      const entries = Array.from({ length: 100 }, () => ({ kind: 'edit', edit }));
      await call(`/${id}/journal`, json({ baseRevision: revision, entries }));
    }
    const database = await openDatabase(file, migrations);
    const rows = await database.db.select({ revision: snapshots.revision }).from(snapshots);
    database.close();
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
    const database = await openDatabase(file, migrations);
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
    database.close();
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
    expect(await raw({ Host: host, Origin: `http://${host}` }, 'POST')).toBe(400);
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
    expect(await status({}, '?token=secret-token')).toBe(200);
    await guarded.stop();
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
    const overlaps = { step: 'trimOverlaps', on: true, parameters: { against: 'nextChord' } };
    const database = await openDatabase(file, migrations);
    await database.db.update(planTable).set({ data: JSON.stringify({ ...mine, version: 2, steps: [overlaps] }) });
    database.close();
    const meant = { ...overlaps, parameters: { against: 'anyPitch' } };
    expect((await plans()).body).toEqual([{ ...mine, steps: [meant] }]);
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
