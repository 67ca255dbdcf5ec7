/** One window among several on the same arrangement: what it does itself, and what the one that writes does for it. */

import {
  demoArrangement,
  type Edit,
  EMPTY_HISTORY,
  type JournalEntry,
  planEdit,
  planOf,
  selectionOf,
} from '@crispfold/core';
import { toast } from 'sonner';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiProblem, api } from '../../browser/api.js';
import { pieceActions } from '../state/pieceSlice.js';
import type { SaveState } from '../state/savingSlice.js';
import { selectingActions } from '../state/selectingSlice.js';
import { createDesk, type DeskStore } from './createDesk.js';
import type { Desk } from './desk.js';
import { pageForTests } from './deskForTests.js';
import { openArrangement } from './opening.js';
import { allSaved, commit } from './saving.js';
import { hasUnsaved } from './savingParts.js';
import { addPartsFromFiles, goToPoint } from './serverChanges.js';
import type { WindowEnds } from './windows.js';

/** The link of the window under test, which stands as the test says. */
interface Link {
  readonly ends: WindowEnds;
  follows: boolean;
  readonly said: unknown[][];
}
const world = vi.hoisted(() => ({
  links: [] as Link[],
  how: 'writes' as 'writes' | 'follows' | 'alone',
  /** Held back until the test lets it go. */
  joins: [] as (() => void)[],
  waits: false,
}));
vi.mock('./windows.js', () => ({
  canBeLinked: () => true,
  browserLock: vi.fn(),
  DeskWindows: class {
    follows = false;
    readonly said: unknown[][] = [];
    constructor(
      readonly id: string,
      readonly ends: WindowEnds,
    ) {
      world.links.push(this);
    }
    async join() {
      const { how } = world;
      if (world.waits) await new Promise<void>((resolve) => world.joins.push(resolve));
      this.follows = how === 'follows';
      return how;
    }
    want = (entry: JournalEntry) => this.said.push(['want', entry]);
    done = (entry: JournalEntry) => this.said.push(['done', entry]);
    saved = (revision: number) => this.said.push(['saved', revision]);
    restated = () => this.said.push(['restated']);
    close = () => this.said.push(['close']);
  },
}));
vi.mock('sonner', () => ({
  toast: { error: vi.fn(), success: vi.fn(), warning: vi.fn(), loading: vi.fn(), dismiss: vi.fn(), message: vi.fn() },
}));

const demo = demoArrangement();
const opened = (revision: number) => ({ id: 'a', revision, changedAt: '', arrangement: demo, history: EMPTY_HISTORY });
const [flute, clarinet] = demo.parts;
const edit = (label: string): Edit => {
  if (!flute) throw new Error('the demo has parts');
  return planEdit(flute, planOf(flute), label);
};
const entry = (label: string): JournalEntry => ({ kind: 'edit', edit: edit(label) });
const labelOf = (one: JournalEntry) => (one.kind === 'edit' ? one.edit.label : `to ${one.position}`);

let desk: Desk;
let store: DeskStore;
let onDisk: number;
let sent: { readonly at: number; readonly labels: string[] }[];
let refuses: ApiProblem | null;

beforeEach(() => {
  vi.useFakeTimers();
  vi.clearAllMocks();
  Object.assign(world, { links: [], how: 'writes', joins: [], waits: false });
  onDisk = 4;
  sent = [];
  refuses = null;
  vi.spyOn(api, 'open').mockImplementation(async () => opened(onDisk));
  vi.spyOn(api, 'append').mockImplementation(async (_id, at, entries) => {
    if (refuses) throw refuses;
    sent.push({ at, labels: entries.map(labelOf) });
    onDisk = at + entries.length;
    return { revision: onDisk, changedAt: '' };
  });
  ({ desk, store } = createDesk(pageForTests()));
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const settle = () => vi.advanceTimersByTimeAsync(0);
const state = () => store.getState();
const link = (): Link => world.links[world.links.length - 1] as Link;
const heard = (kind: string) => link().said.filter(([what]) => what === kind);
const begin = async (how: typeof world.how) => {
  world.how = how;
  await store.dispatch(openArrangement('a'));
  return link().ends;
};
const labels = () => state().piece.history.entries.map(({ label }) => label);

describe('the window that writes', () => {
  it('tells the others each change as it is made, and when it is on disk', async () => {
    await begin('writes');
    expect(desk.saving.windows).toBe(link());
    store.dispatch(commit(edit('first')));
    expect(heard('done')).toEqual([['done', entry('first')]]);
    expect(heard('saved')).toEqual([]);
    await settle();
    expect(heard('saved')).toEqual([['saved', 5]]);
    expect(heard('want')).toEqual([]);
  });

  it('says how it stands, what is not on disk with it, and nothing once it shows another arrangement', async () => {
    const ends = await begin('writes');
    expect(ends.standing()).toEqual({ open: opened(4), unsaved: [] });
    store.dispatch(commit(edit('first')));
    const now = ends.standing();
    expect(now?.open).toMatchObject({
      id: 'a',
      revision: 4,
      arrangement: state().piece.arrangement,
      history: state().piece.history,
    });
    expect(now?.unsaved.map(labelOf)).toEqual(['first']);
    await settle();
    expect(ends.standing()).toMatchObject({ open: { revision: 5 }, unsaved: [] });
    store.dispatch(selectingActions.selected(selectionOf(1, [3])));
    expect(ends.view()).toEqual({ selection: selectionOf(1, [3]), frontPartId: flute?.id, saveState: 'saved' });
    store.dispatch(pieceActions.opening('b'));
    expect(ends.standing()).toBeNull();
  });

  it('carries out what another wants as its own: said to all, and kept', async () => {
    const ends = await begin('writes');
    ends.carryOut(entry('theirs'));
    expect(labels()).toEqual(['theirs']);
    expect(heard('done')).toEqual([['done', entry('theirs')]]);
    await settle();
    expect(sent).toEqual([{ at: 4, labels: ['theirs'] }]);
  });

  it('says anew how it stands where the server changed something by itself', async () => {
    await begin('writes');
    vi.spyOn(api, 'addParts').mockResolvedValue({ edit: edit('parts added'), revision: 5, warnings: [] } as never);
    vi.spyOn(api, 'backToPoint').mockResolvedValue({ edit: edit('back'), revision: 6 } as never);
    await store.dispatch(addPartsFromFiles([]));
    expect(heard('restated')).toHaveLength(1);
    await store.dispatch(goToPoint(1));
    expect(heard('restated')).toHaveLength(2);
    expect(labels()).toEqual(['parts added', 'back']);
    // The next change goes on from the revision that the server made.
    store.dispatch(commit(edit('next')));
    await settle();
    expect(sent).toEqual([{ at: 6, labels: ['next'] }]);
  });
});

describe('a window that follows', () => {
  it('carries nothing out by itself: it asks, and takes over what was carried out', async () => {
    const ends = await begin('follows');
    ends.stand(opened(4));
    expect(state().piece.status).toBe('ready');
    store.dispatch(commit(edit('mine')));
    expect(labels()).toEqual([]);
    expect(heard('want')).toEqual([['want', entry('mine')]]);
    ends.take(entry('mine'));
    expect(labels()).toEqual(['mine']);
    await settle();
    expect(sent).toEqual([]);
    expect(api.open).not.toHaveBeenCalled();
    expect(ends.standing()).toBeNull();
  });

  it('looks as the other does: selection, front part, and how the work stands', async () => {
    const ends = await begin('follows');
    ends.stand(opened(4));
    const selection = selectionOf(clarinet?.id ?? 0, [7]);
    const look = (saveState: SaveState) => {
      ends.look({ selection, frontPartId: clarinet?.id ?? null, saveState });
      return state().saving.saveState;
    };
    expect(look('saving')).toBe('saving');
    expect([state().selecting.selection, state().partsShown.frontPartId]).toEqual([selection, clarinet?.id]);
    expect(look('saved')).toBe('saved');
    // What is to be settled is settled there: here it only waits.
    expect(look('elsewhere')).toBe('waiting');
    expect(look('refused')).toBe('waiting');
    ends.look({ selection, frontPartId: null, saveState: 'saved' });
    expect(state().partsShown.frontPartId).toBe(clarinet?.id);
    const follow = vi.spyOn(desk.player, 'follow').mockImplementation(() => undefined);
    ends.playhead({ playing: true, tick: 12 });
    expect(follow).toHaveBeenCalledWith({ playing: true, tick: 12 });
  });

  it('leaves to the other what the server does by itself, and says so', async () => {
    const ends = await begin('follows');
    ends.stand(opened(4));
    const added = vi.spyOn(api, 'addParts');
    const back = vi.spyOn(api, 'backToPoint');
    await store.dispatch(addPartsFromFiles([]));
    await store.dispatch(goToPoint(1));
    expect(added).not.toHaveBeenCalled();
    expect(back).not.toHaveBeenCalled();
    expect(toast.error).toHaveBeenCalledTimes(2);
    expect(vi.mocked(toast.error).mock.calls[0]?.[0]).toContain('the window that was open first');
  });
});

describe('a window that takes over from one that was closed', () => {
  const taken = async (unsaved: string[], found: number | ApiProblem) => {
    const ends = await begin('follows');
    ends.stand(opened(4));
    vi.mocked(api.open).mockImplementation(async () => {
      if (found instanceof ApiProblem) throw found;
      onDisk = found;
      return opened(found);
    });
    link().follows = false;
    ends.write(4, unsaved.map(entry));
    expect(hasUnsaved(desk.saving)).toBe(true);
    await settle();
  };

  it('keeps what the other had not, on the revision it was on', async () => {
    await taken(['first', 'second'], 4);
    expect(sent).toEqual([{ at: 4, labels: ['first', 'second'] }]);
    expect(hasUnsaved(desk.saving)).toBe(false);
    expect(toast.message).toHaveBeenCalledOnce();
    store.dispatch(commit(edit('third')));
    await settle();
    expect(sent[1]).toEqual({ at: 6, labels: ['third'] });
  });

  it('leaves out what had reached the disk', async () => {
    await taken(['first', 'second', 'third'], 6);
    expect(sent).toEqual([{ at: 6, labels: ['third'] }]);
  });

  it('keeps nothing again where all had', async () => {
    await taken(['first', 'second'], 6);
    expect(sent).toEqual([]);
    expect(hasUnsaved(desk.saving)).toBe(false);
  });

  it('leaves out nothing where the disk is further than that explains', async () => {
    await taken(['first'], 9);
    expect(sent).toEqual([{ at: 9, labels: ['first'] }]);
  });

  it('tries with what it knows where the server does not answer', async () => {
    await taken(['first'], new ApiProblem(0, 'noAnswer', 'no answer'));
    expect(sent).toEqual([{ at: 4, labels: ['first'] }]);
  });
});

describe('opening', () => {
  it('by itself where no other window answers', async () => {
    await begin('alone');
    expect(desk.saving.windows).toBeNull();
    store.dispatch(commit(edit('first')));
    await settle();
    expect(sent).toEqual([{ at: 4, labels: ['first'] }]);
    expect(link().said).toEqual([]);
  });

  it('gives up a link that was still sought when another arrangement was opened', async () => {
    world.waits = true;
    const first = store.dispatch(openArrangement('a'));
    const early = link();
    const second = store.dispatch(openArrangement('b'));
    for (const join of world.joins) join();
    await Promise.all([first, second]);
    expect(early.said.map(([what]) => what)).toContain('close');
    expect(link().said).toEqual([]);
    expect(api.open).toHaveBeenCalledTimes(1);
    expect(api.open).toHaveBeenCalledWith('b');
  });

  it('closes the link of the arrangement before', async () => {
    await begin('writes');
    const before = link();
    await store.dispatch(openArrangement('b'));
    expect(before.said).toEqual([['close']]);
  });

  it('says what of it is damaged, and opens the rest', async () => {
    const [, ...others] = demo.parts;
    const parts = [{ ...(flute as object), notes: 'gone' } as never, ...others];
    vi.mocked(api.open).mockResolvedValue({ ...opened(4), arrangement: { ...demo, parts } });
    await begin('writes');
    expect(state().piece.status).toBe('ready');
    expect(vi.mocked(toast.error).mock.calls[0]?.[0]).toContain('damaged');
  });
});

describe('what waits to be saved', () => {
  it('is waited for, some seconds at most', async () => {
    await begin('writes');
    const now = store.dispatch(allSaved());
    await settle();
    expect(await now).toBe(true);
    refuses = new ApiProblem(0, 'noAnswer', 'no answer');
    store.dispatch(commit(edit('first')));
    await settle();
    const then = store.dispatch(allSaved());
    let answered = false;
    void then.then(() => {
      answered = true;
    });
    await vi.advanceTimersByTimeAsync(2000);
    expect(answered).toBe(false);
    // The next try goes well.
    refuses = null;
    await vi.advanceTimersByTimeAsync(1000);
    expect(await then).toBe(true);
    refuses = new ApiProblem(0, 'noAnswer', 'no answer');
    store.dispatch(commit(edit('second')));
    await settle();
    const never = store.dispatch(allSaved());
    await vi.advanceTimersByTimeAsync(6000);
    expect(await never).toBe(false);
  });

  it('says what the server says of itself, once', async () => {
    await begin('writes');
    refuses = new ApiProblem(507, 'diskFull', 'The disk is full.');
    store.dispatch(commit(edit('first')));
    await settle();
    expect(state().saving.saveState).toBe('waiting');
    expect(toast.error).toHaveBeenCalledWith('The disk is full.');
    await vi.advanceTimersByTimeAsync(2500);
    expect(toast.error).toHaveBeenCalledTimes(1);
  });

  it('is tried later and later, and at last at one pace', async () => {
    await begin('writes');
    refuses = new ApiProblem(0, 'noAnswer', 'no answer');
    store.dispatch(commit(edit('first')));
    await settle();
    const tries = () => vi.mocked(api.append).mock.calls.length;
    expect(tries()).toBe(1);
    for (const [index, pause] of [2500, 5000, 10_000, 20_000, 40_000, 40_000].entries()) {
      await vi.advanceTimersByTimeAsync(pause - 60);
      expect(tries()).toBe(index + 1);
      await vi.advanceTimersByTimeAsync(65);
      expect(tries()).toBe(index + 2);
    }
  });
});
