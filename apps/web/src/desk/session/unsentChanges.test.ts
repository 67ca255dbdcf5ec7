/** Changes of an earlier visit that did not reach the server: asked about, brought back, discarded. */
import { createDesk, type DeskStore } from './createDesk.js';
import { pageForTests } from './deskForTests.js';
import { openArrangement } from './opening.js';
import { bringBackFromBin, bringUnsentBack, discardUnsent } from './settling.js';
import 'fake-indexeddb/auto';
import { demoArrangement, type Edit, EMPTY_HISTORY, type JournalEntry, planEdit, planOf } from '@crispfold/core';
import { openDB } from 'idb';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiProblem, api } from '../../browser/api.js';
import { createKeptChangesHere, openKeptChanges } from '../../browser/keptChanges.js';

import { commit } from './saving.js';

vi.mock('sonner', () => ({
  toast: { error: vi.fn(), success: vi.fn(), warning: vi.fn(), loading: vi.fn(), dismiss: vi.fn(), message: vi.fn() },
}));

const demo = demoArrangement();
const edit = (label: string): Edit => {
  const [part] = demo.parts;
  if (!part) throw new Error('the demo has parts');
  return planEdit(part, planOf(part), label);
};
let id = '';
let openings = 0;
let store: DeskStore;
/** The server: its revision, what it was sent, the requests that it knows, and what it answers instead. */
let revision: number;
let sent: { at: number; labels: string[]; requestId: string }[];
let known: string[];
let refuses: ApiProblem | null;

const labelsOf = (entries: readonly JournalEntry[]) =>
  entries.map((entry) => (entry.kind === 'edit' ? entry.edit.label : `to ${entry.position}`));

beforeEach(() => {
  openings += 1;
  id = `arrangement ${openings}`;
  revision = 4;
  sent = [];
  known = [];
  refuses = null;
  ({ store } = createDesk(pageForTests({ keptChanges: createKeptChangesHere() })));
  vi.spyOn(api, 'session').mockResolvedValue({ name: null });
  vi.spyOn(api, 'open').mockImplementation(async () => ({
    id,
    revision,
    changedAt: '',
    arrangement: demo,
    history: EMPTY_HISTORY,
  }));
  vi.spyOn(api, 'written').mockImplementation(async (_id, name) =>
    known.includes(name) ? { revision, changedAt: '' } : null,
  );
  vi.spyOn(api, 'append').mockImplementation(async (_id, at, entries, requestId) => {
    if (refuses) throw refuses;
    if (at !== revision) throw new ApiProblem(409, 'changedElsewhere', '');
    sent.push({ at, labels: labelsOf(entries), requestId });
    revision += entries.length;
    return { revision, changedAt: '' };
  });
});
afterEach(() => vi.restoreAllMocks());

const state = () => store.getState();
/** A tab made these changes, from revision 4 on, and ended. */
const anEarlierVisit = async (labels: readonly string[], requestId?: string) => {
  const tab = openKeptChanges('own');
  const outbox = tab?.outboxOf(id, () => undefined);
  labels.forEach((label, at) => {
    const entry: JournalEntry = { kind: 'edit', edit: edit(label) };
    outbox?.push({ follows: 4 + at, position: at, entry: () => entry }, Promise.resolve());
  });
  if (requestId) await outbox?.named(labels.length, requestId);
  await outbox?.settled();
  (tab as unknown as { channel: BroadcastChannel }).channel.close();
};
const opened = async () => {
  await store.dispatch(openArrangement(id));
  await new Promise((resolve) => setTimeout(resolve, 500));
};

describe('a change', () => {
  it('is kept, with the name of its request, before it is sent', async () => {
    await opened();
    let kept: readonly (string | null)[] = [];
    vi.mocked(api.append).mockImplementationOnce(async (_id, _at, _entries, requestId) => {
      // As another browser tab would find it once this one has ended.
      const all = await (await openDB('crispfold')).getAll('changes');
      kept = all.filter(({ arrangement }) => arrangement === id).map((change) => change.requestId);
      expect(kept).toEqual([requestId]);
      revision += 1;
      return { revision, changedAt: '' };
    });
    store.dispatch(commit(edit('first')));
    await vi.waitFor(() => expect(state().saving.saveState).toBe('saved'));
    expect(kept).toHaveLength(1);
    const left = async () =>
      (await (await openDB('crispfold')).getAll('changes')).filter((own) => own.arrangement === id);
    await vi.waitFor(async () => expect(await left()).toEqual([]));
  });
});

describe('changes that an earlier visit could not save', () => {
  it('are asked about, and come back as they were made where nothing came in between', async () => {
    await anEarlierVisit(['one', 'two'], 'request-1');
    await opened();
    expect(state().saving.unsent?.count).toBe(2);
    await store.dispatch(bringUnsentBack());
    expect(sent).toEqual([{ at: 4, labels: ['one', 'two'], requestId: 'request-1' }]);
    expect(state().saving.unsent).toBeNull();
    ({ store } = createDesk(pageForTests({ keptChanges: createKeptChangesHere() })));
    await opened();
    expect(state().saving.unsent).toBeNull();
  });

  it('have the name of their request before they are sent: a crash in between makes no second change', async () => {
    await anEarlierVisit(['one']);
    await opened();
    let named: readonly (string | null)[] = [];
    vi.mocked(api.append).mockImplementationOnce(async (_id, _at, _entries, requestId) => {
      named = ((await openKeptChanges('own')?.found(id))?.changes ?? []).map((change) => change.requestId);
      expect(named).toEqual([requestId]);
      // The tab ends here.
      throw new ApiProblem(0, 'offline', '');
    });
    await store.dispatch(bringUnsentBack());
    expect(named).toHaveLength(1);
    known = [named[0] ?? ''];
    ({ store } = createDesk(pageForTests({ keptChanges: createKeptChangesHere() })));
    await opened();
    expect(state().saving.unsent).toBeNull();
  });

  it('go on top of what another window saved meanwhile', async () => {
    await anEarlierVisit(['one', 'two']);
    revision = 9;
    await opened();
    await store.dispatch(bringUnsentBack());
    await vi.waitFor(() => expect(sent.flatMap(({ labels }) => labels)).toEqual(['one', 'two']));
    expect(sent[0]?.at).toBe(9);
    expect(state().piece.history.entries.map(({ label }) => label)).toEqual(['one', 'two']);
  });

  it('are not asked about where they reached the server after all', async () => {
    await anEarlierVisit(['one', 'two'], 'request-2');
    known = ['request-2'];
    await opened();
    expect(state().saving.unsent).toBeNull();
  });

  it('stay kept where the server does not answer when they are brought back', async () => {
    await anEarlierVisit(['one']);
    await opened();
    refuses = new ApiProblem(0, 'offline', 'The server does not answer.');
    await store.dispatch(bringUnsentBack());
    expect(state().saving.unsent?.count).toBe(1);
    ({ store } = createDesk(pageForTests({ keptChanges: createKeptChangesHere() })));
    await opened();
    expect(state().saving.unsent?.count).toBe(1);
  });

  it('are brought back once, also where part of them arrived and then the server went away', async () => {
    const many = Array.from({ length: 250 }, (_, at) => `change ${at}`);
    await anEarlierVisit(many);
    await opened();
    const append = vi.mocked(api.append).getMockImplementation();
    vi.mocked(api.append).mockImplementation(async (...given) => {
      if (sent.length === 0) return append?.(...given) ?? { revision, changedAt: '' };
      // This one arrives, and its answer is lost.
      known.push(given[3]);
      sent.push({ at: given[1], labels: labelsOf(given[2]), requestId: given[3] });
      revision += given[2].length;
      throw new ApiProblem(0, 'offline', 'The server does not answer.');
    });
    await store.dispatch(bringUnsentBack());
    expect(state().saving.unsent?.count).toBe(250);
    await store.dispatch(bringUnsentBack());
    expect(state().saving.unsent).toBeNull();
    expect(sent.flatMap(({ labels }) => labels)).toEqual(many);
  });

  it('are gone when they are discarded', async () => {
    await anEarlierVisit(['one']);
    await opened();
    await store.dispatch(discardUnsent());
    ({ store } = createDesk(pageForTests({ keptChanges: createKeptChangesHere() })));
    await opened();
    expect(state().saving.unsent).toBeNull();
    expect(sent).toEqual([]);
  });
});

describe('an arrangement that was put in the bin', () => {
  it('keeps what waits, and saves it once it was taken out', async () => {
    await opened();
    refuses = new ApiProblem(410, 'inTheBin', 'This arrangement lies in the bin.');
    store.dispatch(commit(edit('late')));
    await vi.waitFor(() => expect(state().saving.saveState).toBe('inTheBin'));
    vi.spyOn(api, 'restore').mockImplementation(async () => {
      refuses = null;
    });
    await store.dispatch(bringBackFromBin());
    expect(state().saving.saveState).toBe('saved');
    expect(sent.map(({ labels }) => labels)).toEqual([['late']]);
  });
});
