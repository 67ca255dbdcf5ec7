import 'fake-indexeddb/auto';
import type { JournalEntry } from '@crispfold/core';
import { LARGEST_OUTBOX } from '@crispfold/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { type KeptChanges, openKeptChanges } from './keptChanges.js';

const made = (label: string, notes = 0): JournalEntry => ({
  kind: 'edit',
  edit: {
    label,
    changes:
      notes === 0
        ? []
        : [
            {
              kind: 'notes',
              partId: 1,
              added: Array.from({ length: notes }, (_, id) => ({ id })) as never,
              removed: [],
              changed: [],
            },
          ],
  },
});
const entry = (label: string, notes = 0) => {
  const own = made(label, notes);
  return () => own;
};
const ready = Promise.resolve();
let owner = 0;
let mine: KeptChanges;
const opened = (who: string): KeptChanges => {
  const kept = openKeptChanges(who);
  if (!kept) throw new Error('There is no storage.');
  return kept;
};
/** A tab that has ended: its name is known, and it answers nothing. */
const anEarlierVisit = async (labels: readonly string[], id = 'a', who = `owner ${owner}`) => {
  const tab = opened(who);
  const outbox = tab.outboxOf(id, () => undefined);
  labels.forEach((label, at) => {
    outbox.push({ follows: 4 + at, position: 2 + at, entry: entry(label) }, ready);
  });
  await outbox.settled();
  (tab as unknown as { channel: BroadcastChannel }).channel.close();
  return outbox;
};
const labels = async (kept: KeptChanges, id = 'a') =>
  (await kept.found(id)).changes.map(({ entry: own }) => (own.kind === 'edit' ? own.edit.label : ''));

beforeEach(() => {
  owner += 1;
  mine = opened(`owner ${owner}`);
});

describe('changes kept in the browser', () => {
  it('of a tab that ended are found in their order, with what they followed', async () => {
    await anEarlierVisit(['one', 'two', 'three']);
    const { changes } = await mine.found('a');
    expect(changes.map(({ follows, position }) => [follows, position])).toEqual([
      [4, 2],
      [5, 3],
      [6, 4],
    ]);
    expect(await labels(mine)).toEqual(['one', 'two', 'three']);
  });

  it('belong to their arrangement and to who is signed in', async () => {
    await anEarlierVisit(['one']);
    await anEarlierVisit(['other piece'], 'b');
    await anEarlierVisit(['somebody else'], 'a', 'a stranger');
    expect(await labels(mine)).toEqual(['one']);
    expect(await mine.counted()).toEqual({ changes: 2, arrangements: 2 });
    await mine.forgetAll();
    expect(await mine.counted()).toEqual({ changes: 0, arrangements: 0 });
    expect(await labels(opened('a stranger'))).toEqual(['somebody else']);
  });

  it('of a tab that is still there are left to it', async () => {
    const other = opened(`owner ${owner}`);
    const outbox = other.outboxOf('a', () => undefined);
    outbox.push({ follows: 0, position: 0, entry: entry('under way') }, ready);
    await outbox.settled();
    expect(await labels(mine)).toEqual([]);
  });

  it('go when they are saved, and have the name of their request before they are sent', async () => {
    const outbox = await anEarlierVisit(['one', 'two', 'three']);
    await outbox.named(2, 'request-1');
    expect((await mine.found('a')).changes.map(({ requestId }) => requestId)).toEqual(['request-1', 'request-1', null]);
    outbox.saved(2);
    await outbox.settled();
    expect(await labels(mine)).toEqual(['three']);
    const others = (await mine.found('a')).keys;
    outbox.replace([{ follows: 9, position: 9, entry: entry('four') }], others);
    await outbox.settled();
    expect(await labels(mine)).toEqual(['four']);
  });

  it('are kept up to a size, in order, and that is said once; what waits behind one that was not kept is not kept', async () => {
    const full = vi.fn();
    const outbox = mine.outboxOf('a', full);
    const half = Math.ceil(LARGEST_OUTBOX / 150 / 2);
    for (const label of ['one', 'too much', 'small, but later'])
      outbox.push({ follows: 0, position: 0, entry: entry(label, label === 'small, but later' ? 0 : half) }, ready);
    await outbox.settled();
    expect(full).toHaveBeenCalledTimes(1);
    expect((await mine.counted()).changes).toBe(1);
    // The one that is kept arrives; those behind it still wait, and so must what comes after them.
    outbox.saved(1);
    outbox.push({ follows: 3, position: 0, entry: entry('later still') }, ready);
    await outbox.named(1, 'request-of-too-much');
    expect((await mine.counted()).changes).toBe(0);
    // All of them arrive: now there is room.
    outbox.saved(3);
    outbox.push({ follows: 4, position: 0, entry: entry('fits again') }, ready);
    await outbox.settled();
    expect((await mine.counted()).changes).toBe(1);
  });
});
