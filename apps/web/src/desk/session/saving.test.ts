import {
  applyEdit,
  demoArrangement,
  drawNote,
  type Edit,
  EMPTY_HISTORY,
  historyEntry,
  type JournalEntry,
  planEdit,
  planOf,
} from '@crispfold/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiProblem, api } from '../../browser/api.js';
import { playbackActions } from '../state/playbackSlice.js';
import { rollActions } from '../state/rollSlice.js';
import { createDesk, type DeskStore } from './createDesk.js';
import type { Desk } from './desk.js';
import { pageForTests } from './deskForTests.js';
import { openArrangement } from './opening.js';
import { commit, goToEntry, redo, undo } from './saving.js';
import { endSaving, hasUnsaved } from './savingParts.js';
import { addPartsFromFiles } from './serverChanges.js';
import { takeOver, takeRefusedBack } from './settling.js';

const demo = demoArrangement();
const opened = (revision: number) => ({
  id: 'a',
  revision,
  changedAt: '',
  arrangement: demo,
  history: EMPTY_HISTORY,
});

/** Three changes that can be told apart by their names. */
const edit = (label: string): Edit => {
  const [part] = demo.parts;
  if (!part) throw new Error('the demo has parts');
  return planEdit(part, planOf(part), label);
};
const labels = (entries: readonly JournalEntry[]) =>
  entries.map((entry) => (entry.kind === 'edit' ? entry.edit.label : `to ${entry.position}`));

let desk: Desk;
let store: DeskStore;
let sent: { revision: number; labels: string[] }[];
let names: string[];
let answer: () => Promise<{ revision: number; changedAt: string }>;

// Toasts are drawn by the browser.
vi.mock('sonner', () => ({
  toast: { error: vi.fn(), success: vi.fn(), warning: vi.fn(), loading: vi.fn(), dismiss: vi.fn() },
}));

beforeEach(async () => {
  vi.useFakeTimers();
  sent = [];
  let revision = 4;
  answer = async () => ({ revision: ++revision, changedAt: '' });
  vi.spyOn(api, 'open').mockImplementation(async () => opened(revision));
  names = [];
  vi.spyOn(api, 'append').mockImplementation((_id, at, entries, requestId) => {
    sent.push({ revision: at, labels: labels(entries) });
    names.push(requestId);
    return answer();
  });
  ({ desk, store } = createDesk(pageForTests()));
  await store.dispatch(openArrangement('a'));
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const state = () => store.getState();
const settle = () => vi.advanceTimersByTimeAsync(0);

it('where ticks become finer, what is looked at stays where it is, and again after undo', () => {
  store.dispatch(playbackActions.loopSet({ start: 480, end: 960 }));
  store.dispatch(rollActions.viewSet({ ...store.getState().roll, left: 1920, ticksPerPixel: 4 }));
  const { ppq } = demo;
  const finer: Edit = {
    label: 'finer',
    changes: [{ kind: 'arrangementFields', before: { ppq }, after: { ppq: ppq * 3 } }],
  };
  const seen = () => [state().playback.loop?.start, store.getState().roll.left, store.getState().roll.ticksPerPixel];
  store.dispatch(commit(finer));
  expect(seen()).toEqual([1440, 5760, 12]);
  store.dispatch(undo());
  expect(seen()).toEqual([480, 1920, 4]);
});

describe('saving', () => {
  it('says saved only once the change is on disk', async () => {
    store.dispatch(commit(edit('first')));
    expect(state().saving.saveState).toBe('saving');
    expect(hasUnsaved(desk.saving)).toBe(true);
    await settle();
    expect(state().saving.saveState).toBe('saved');
    expect(hasUnsaved(desk.saving)).toBe(false);
    expect(sent).toEqual([{ revision: 4, labels: ['first'] }]);
  });

  it('sends in order, what was made meanwhile after it, each on the revision before', async () => {
    store.dispatch(commit(edit('first')));
    await settle();
    store.dispatch(commit(edit('second')));
    store.dispatch(commit(edit('third')));
    store.dispatch(undo());
    store.dispatch(redo());
    await settle();
    expect(sent).toEqual([
      { revision: 4, labels: ['first'] },
      { revision: 5, labels: ['second', 'third', 'to 2', 'to 3'] },
    ]);
    expect(state().piece.history.position).toBe(3);
  });

  it('sends what was made while a batch was on its way', async () => {
    let arrive: () => void = () => undefined;
    const back = answer;
    answer = () => new Promise((resolve) => (arrive = () => resolve(back())));
    store.dispatch(commit(edit('first')));
    await settle();
    store.dispatch(commit(edit('second')));
    await settle();
    expect(sent.map((request) => request.labels)).toEqual([['first']]);
    answer = back;
    arrive();
    await settle();
    expect(sent.map((request) => request.labels)).toEqual([['first'], ['second']]);
    expect(state().saving.saveState).toBe('saved');
    expect(hasUnsaved(desk.saving)).toBe(false);
  });

  it('keeps the newer of two arrangements that were opened, whichever answers last', async () => {
    const answers: (() => void)[] = [];
    vi.mocked(api.open).mockImplementation(
      (id) => new Promise((resolve) => answers.push(() => resolve({ ...opened(1), id }))),
    );
    const older = store.dispatch(openArrangement('old'));
    const newer = store.dispatch(openArrangement('new'));
    answers[1]?.();
    await newer;
    answers[0]?.();
    await older;
    expect(state().piece).toMatchObject({ id: 'new', status: 'ready' });
    store.dispatch(commit(edit('first')));
    await settle();
    expect(vi.mocked(api.append).mock.calls[0]?.[0]).toBe('new');
  });

  it('fetches older entries where an undo goes further back than those at hand', async () => {
    const older = [edit('oldest'), edit('older')].map(historyEntry);
    vi.mocked(api.open).mockImplementation(async () => ({
      ...opened(9),
      history: { entries: [historyEntry(edit('newest'))], position: 3, skipped: 2 },
    }));
    vi.spyOn(api, 'history').mockResolvedValue({ entries: older });
    await store.dispatch(openArrangement('a'));
    store.dispatch(goToEntry(1));
    await settle();
    expect(api.history).toHaveBeenCalledWith('a', 2);
    expect(state().piece.history).toMatchObject({ skipped: 0, position: 1 });
    expect(sent).toEqual([{ revision: 9, labels: ['to 1'] }]);
  });

  it('does not send what changes nothing', async () => {
    store.dispatch(commit(null));
    store.dispatch(undo());
    store.dispatch(redo());
    await settle();
    expect(sent).toEqual([]);
  });

  it('keeps a change while the server is away, and sends it when it is back', async () => {
    const back = answer;
    answer = () => Promise.reject(new ApiProblem(0, 'offline', 'no answer'));
    store.dispatch(commit(edit('first')));
    await settle();
    expect(state().saving.saveState).toBe('waiting');
    expect(hasUnsaved(desk.saving)).toBe(true);
    expect(state().piece.history.entries).toHaveLength(1);
    answer = back;
    await vi.advanceTimersByTimeAsync(3000);
    expect(state().saving.saveState).toBe('saved');
    expect(sent.map((request) => request.labels)).toEqual([['first'], ['first']]);
  });

  it('once it is let go of, what was on its way and got no answer is not tried again', async () => {
    let fail: () => void = () => undefined;
    answer = () =>
      new Promise((_, reject) => {
        fail = () => reject(new ApiProblem(0, 'offline', 'no answer'));
      });
    store.dispatch(commit(edit('first')));
    await settle();
    endSaving(desk.saving);
    fail();
    await vi.advanceTimersByTimeAsync(120_000);
    expect(sent.map((request) => request.labels)).toEqual([['first']]);
  });

  it('sends the same again under the same name where the answer was lost, and waits longer each time', async () => {
    const back = answer;
    answer = () => Promise.reject(new ApiProblem(0, 'offline', 'no answer'));
    store.dispatch(commit(edit('first')));
    await settle();
    store.dispatch(commit(edit('second')));
    await vi.advanceTimersByTimeAsync(2500);
    // What was made meanwhile is no part of what is sent again.
    expect(sent.map((request) => request.labels)).toEqual([['first'], ['first'], ['first']].slice(0, sent.length));
    expect(new Set(names).size).toBe(1);
    const before = sent.length;
    await vi.advanceTimersByTimeAsync(2500);
    expect(sent.length).toBe(before);
    answer = back;
    await vi.advanceTimersByTimeAsync(40_000);
    expect(sent.at(-1)?.labels).toEqual(['second']);
    expect(new Set(names).size).toBe(2);
    expect(state().saving.saveState).toBe('saved');
  });

  it('tells what was refused, saves what came before, and the rest once it is taken back', async () => {
    const back = answer;
    store.dispatch(commit(edit('first')));
    store.dispatch(commit(edit('bad')));
    store.dispatch(commit(edit('last')));
    answer = () =>
      sent.at(-1)?.labels.includes('bad')
        ? Promise.reject(new ApiProblem(400, 'invalid', 'A name is too long.'))
        : back();
    await vi.advanceTimersByTimeAsync(100);
    expect(sent.map((request) => request.labels)).toEqual([['first', 'bad', 'last'], ['first'], ['bad']]);
    expect(state().saving).toMatchObject({
      saveState: 'refused',
      refused: { label: 'bad', reason: 'A name is too long.' },
    });
    await vi.advanceTimersByTimeAsync(60_000);
    expect(sent).toHaveLength(3);
    const taken = store.dispatch(takeRefusedBack());
    await settle();
    await taken;
    expect(sent.at(-1)?.labels).toEqual(['last']);
    expect(state().saving).toMatchObject({ saveState: 'saved', refused: null });
    expect(hasUnsaved(desk.saving)).toBe(false);
  });

  it('fetches Edits that are at hand by name alone before it goes back over them', async () => {
    const [older, newest] = [edit('older'), edit('newest')];
    vi.mocked(api.open).mockImplementation(async () => ({
      ...opened(9),
      history: {
        entries: [older, newest].map((one) => ({ ...historyEntry(one), edit: null })),
        position: 2,
        skipped: 0,
      },
    }));
    const fetched = vi.spyOn(api, 'edits').mockResolvedValue({ from: 1, edits: [newest] });
    await store.dispatch(openArrangement('a'));
    store.dispatch(undo());
    await settle();
    expect(fetched).toHaveBeenCalledWith('a', 1, 2, true);
    expect(state().piece.history.position).toBe(1);
    expect(sent).toEqual([{ revision: 9, labels: ['to 1'] }]);
  });

  it('goes as far back as was asked while Edits on the way are fetched', async () => {
    const three = ['one', 'two', 'three'].map(edit);
    vi.mocked(api.open).mockImplementation(async () => ({
      ...opened(9),
      history: { entries: three.map((one) => ({ ...historyEntry(one), edit: null })), position: 3, skipped: 0 },
    }));
    vi.spyOn(api, 'edits').mockImplementation(async (_id, from, to) => ({ from, edits: three.slice(from, to) }));
    await store.dispatch(openArrangement('a'));
    for (let times = 0; times < 3; times += 1) store.dispatch(undo());
    await vi.advanceTimersByTimeAsync(10);
    expect(state().piece.history.position).toBe(0);
    expect(sent.at(-1)?.labels).toEqual(['to 0']);
  });

  it('does not undo what was made while an undo was fetching', async () => {
    const [older, newest] = [edit('older'), edit('newest')];
    vi.mocked(api.open).mockImplementation(async () => ({
      ...opened(9),
      history: {
        entries: [older, newest].map((one) => ({ ...historyEntry(one), edit: null })),
        position: 2,
        skipped: 0,
      },
    }));
    let arrive: () => void = () => undefined;
    vi.spyOn(api, 'edits').mockImplementation(
      () => new Promise((resolve) => (arrive = () => resolve({ from: 1, edits: [newest] }))),
    );
    await store.dispatch(openArrangement('a'));
    store.dispatch(undo());
    await settle();
    store.dispatch(commit(edit('made meanwhile')));
    arrive();
    await vi.advanceTimersByTimeAsync(10);
    expect(state().piece.history.position).toBe(3);
    expect(state().piece.history.entries.at(-1)?.label).toBe('made meanwhile');
    expect(sent.at(-1)?.labels).toEqual(['made meanwhile']);
  });

  it('stops at another window’s change; taking over puts this window’s changes on top, and drops its pointers', async () => {
    const back = answer;
    answer = () => Promise.reject(new ApiProblem(409, 'conflict', 'changed elsewhere'));
    store.dispatch(commit(edit('first')));
    store.dispatch(undo());
    await settle();
    expect(state().saving.saveState).toBe('elsewhere');
    store.dispatch(commit(edit('second')));
    await vi.advanceTimersByTimeAsync(10_000);
    expect(sent).toHaveLength(1);

    answer = back;
    vi.mocked(api.open).mockImplementation(async () => opened(9));
    const taken = store.dispatch(takeOver());
    await settle();
    await taken;
    expect(sent[1]).toEqual({ revision: 9, labels: ['first', 'second'] });
    expect(state().saving.saveState).toBe('saved');
    expect(state().piece.history.entries.map((entry) => entry.label)).toEqual(['first', 'second']);
  });

  it('keeps both notes where both windows gave a new one the same id', async () => {
    const drawn = (pitch: number) => drawNote(demo, 1, { pitch, onset: 0, duration: 10, velocity: 80 }) as Edit;
    const back = answer;
    answer = () => Promise.reject(new ApiProblem(409, 'conflict', 'changed elsewhere'));
    store.dispatch(commit(drawn(50)));
    await settle();
    answer = back;
    const theirs = { ...opened(9), arrangement: applyEdit(demo, drawn(51)) };
    vi.mocked(api.open).mockImplementation(async () => theirs);
    await Promise.all([store.dispatch(takeOver()), settle()]);
    const pitches = state().piece.arrangement?.parts[0]?.notes.map(({ pitch }) => pitch);
    expect(pitches).toEqual(expect.arrayContaining([50, 51]));
  });

  it('adds no files on top of a change that could not be saved', async () => {
    const add = vi.spyOn(api, 'addParts');
    answer = () => Promise.reject(new ApiProblem(409, 'conflict', 'changed elsewhere'));
    store.dispatch(commit(edit('first')));
    await settle();
    await store.dispatch(addPartsFromFiles([]));
    expect(add).not.toHaveBeenCalled();
    expect(state().saving.saveState).toBe('elsewhere');
  });

  it('says why an arrangement could not be opened', async () => {
    vi.mocked(api.open).mockRejectedValue(new ApiProblem(404, 'missing', 'There is no such arrangement.'));
    await store.dispatch(openArrangement('b'));
    expect(state().piece.status).toBe('failed');
    expect(state().piece.problem).toBe('There is no such arrangement.');
  });
});
