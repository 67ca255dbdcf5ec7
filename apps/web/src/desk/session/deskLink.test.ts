import { type Arrangement, demoArrangement, type PartId } from '@crispfold/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { packNotes } from '../../engine/packedNotes.js';
import type { AnswerTo, CallName, PackedLayer } from '../../engine/protocol.js';
import { DeskLink, type LinkEnds } from './deskLink.js';

const demo = demoArrangement();

/** A worker of whose answers the test decides when they arrive. */
const newWorker = () => {
  const asked: { call: string; answer: (value: unknown) => void; fail: (error: Error) => void }[] = [];
  let arrangement: Arrangement | null = demo;
  let revision = 0;
  const told: { parts: PartId[] }[] = [];
  const findings: unknown[] = [];
  const ends: LinkEnds = {
    arrangement: () => arrangement,
    first: () => [1],
    begin: () => {
      revision = 0;
    },
    tell: ({ parts }) => {
      revision += 1;
      told.push({ parts: parts.map((part) => part.id) });
      return { revision, done: Promise.resolve() };
    },
    ask: <Name extends CallName>(call: Name) =>
      new Promise<AnswerTo<Name>>((resolve, reject) => {
        asked.push({ call, answer: resolve as (value: unknown) => void, fail: reject });
      }),
    onFindings: (list) => findings.push(list),
  };
  return {
    ends,
    asked,
    told,
    findings,
    set: (next: Arrangement) => {
      arrangement = next;
    },
  };
};
const layer = (partId: PartId, covers: number): PackedLayer => ({
  partId,
  covers,
  packed: packNotes([]),
  touched: [],
  suggestion: '',
});
const edited = (arrangement: Arrangement, id: PartId): Arrangement => ({
  ...arrangement,
  parts: arrangement.parts.map((part) => (part.id === id ? { ...part, name: `${part.name}!` } : part)),
});
const settle = () => vi.advanceTimersByTimeAsync(0);

let worker: ReturnType<typeof newWorker>;
let link: DeskLink;
beforeEach(async () => {
  vi.useFakeTimers();
  worker = newWorker();
  link = new DeskLink(worker.ends);
  link.start();
  await settle();
});
const answer = async (value: object) => {
  worker.asked.shift()?.answer(value);
  await settle();
};

describe('the line to the worker', () => {
  it('tells everything once, then what changed, as it changes', () => {
    expect(worker.told).toEqual([{ parts: [1, 2, 3, 4, 5, 6] }]);
    link.changed();
    worker.set(edited(demo, 2));
    link.changed();
    expect(worker.told).toHaveLength(2);
    expect(worker.told[1]).toEqual({ parts: [2] });
    expect(link.revision.get()).toBe(2);
  });

  it('keeps the layer of one part where another is edited before its answer is read', async () => {
    await answer({ layers: [layer(1, 1), layer(2, 1)], left: 0, covers: 1 });
    worker.set(edited(demo, 1));
    link.changed();
    await settle();
    worker.set(edited(edited(demo, 1), 2));
    link.changed();
    // The answer to the first edit comes after the second was made.
    await answer({ layers: [layer(1, 2)], left: 0, covers: 2 });
    expect(link.layers.get().get(1)?.covers).toBe(2);
    expect(link.work.get().kind).toBe('working');
    await answer({ layers: [layer(2, 3)], left: 0, covers: 3 });
    expect(link.layers.get().get(2)?.covers).toBe(3);
    expect(link.work.get().kind).toBe('ready');
  });

  it('shows the layers of an edit with the page of it, and waits no longer than a moment', async () => {
    await answer({ layers: [layer(1, 1)], left: 0, covers: 1 });
    let now = demo;
    const editedAgain = async (covers: number, page: Promise<unknown>) => {
      now = edited(now, 1);
      worker.set(now);
      link.changed();
      link.comesWith(page);
      await settle();
      await answer({ layers: [layer(1, covers)], left: 0, covers });
    };
    let drawn: (value: unknown) => void = () => undefined;
    await editedAgain(2, new Promise((resolve) => (drawn = resolve)));
    expect(link.layers.get().get(1)?.covers).toBe(1);
    expect(link.work.get().kind).toBe('working');
    drawn(null);
    await settle();
    expect(link.layers.get().get(1)?.covers).toBe(2);
    expect(link.work.get().kind).toBe('ready');
    // A page that never comes, and one that cannot be engraved.
    await editedAgain(3, new Promise(() => undefined));
    await vi.advanceTimersByTimeAsync(149);
    expect(link.layers.get().get(1)?.covers).toBe(2);
    await vi.advanceTimersByTimeAsync(1);
    expect(link.layers.get().get(1)?.covers).toBe(3);
    await editedAgain(4, Promise.reject(new Error('no such page')));
    expect(link.layers.get().get(1)?.covers).toBe(4);
  });

  it('does not have the layers of an opening wait for its first page', async () => {
    link.comesWith(new Promise(() => undefined));
    await answer({ layers: [layer(1, 1)], left: 0, covers: 1 });
    expect(link.layers.get().get(1)?.covers).toBe(1);
  });

  it('has a failed state where a call is rejected, and can begin again', async () => {
    worker.asked.shift()?.fail(new Error('out of memory'));
    await settle();
    const failed = link.work.get();
    expect(failed).toMatchObject({ kind: 'failed', message: 'out of memory' });
    if (failed.kind === 'failed') failed.again();
    await settle();
    expect(worker.told[1]).toEqual({ parts: [1, 2, 3, 4, 5, 6] });
    await answer({ layers: [layer(1, 1)], left: 0, covers: 1 });
    expect(link.work.get().kind).toBe('ready');
  });

  it('opened anew, asks again and takes no answer to the earlier opening', async () => {
    link.stop();
    link.start();
    await settle();
    await answer({ layers: [layer(1, 1)], left: 0, covers: 1 });
    expect(link.layers.get().size).toBe(0);
    expect(link.work.get().kind).toBe('working');
    await answer({ layers: [layer(2, 1)], left: 0, covers: 1 });
    expect([...link.layers.get().keys()]).toEqual([2]);
    expect(link.work.get().kind).toBe('ready');
  });

  it('takes no answer once it is closed, and no failure of a session that is over', async () => {
    const over = Object.assign(new Error('gone'), { name: 'SessionOver' });
    worker.asked.shift()?.fail(over);
    await settle();
    expect(link.work.get().kind).toBe('working');
    link.start();
    await settle();
    link.stop();
    await answer({ layers: [layer(1, 1)], left: 0, covers: 1 });
    expect(link.layers.get().size).toBe(0);
  });

  it('asks for findings when the hand rests, and drops them where a change came meanwhile', async () => {
    await answer({ layers: [layer(1, 1)], left: 0, covers: 1 });
    await vi.advanceTimersByTimeAsync(300);
    expect(worker.asked.map(({ call }) => call)).toEqual(['findings']);
    worker.set(edited(demo, 1));
    link.changed();
    await answer({ parts: [{ partId: 1, findings: ['late'] }], covers: 1 });
    expect(worker.findings).toEqual([]);
    // They come with the next answer, though that one brings nothing new.
    await answer({ layers: [], left: 0, covers: 2 });
    await vi.advanceTimersByTimeAsync(300);
    await answer({ parts: [], covers: 2 });
    expect(worker.findings).toEqual([['late']]);
    link.stop();
    expect(worker.findings.at(-1)).toEqual([]);
  });
});
