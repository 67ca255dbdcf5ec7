import type { OpenArrangement } from '@crispfold/contract';
import { type JournalEntry, NOTHING, selectionOf } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import type { PlayerState } from './sound/player.js';
import { type Channel, DeskWindows, type SharedView, type Standing } from './windows.js';

/** A browser: channels by name, and one lock that goes from window to window in turn. */
const browser = () => {
  const channels = new Set<Channel>();
  const queue: { readonly granted: () => void; readonly until: Promise<void> }[] = [];
  let held = false;
  const next = () => {
    const first = queue.shift();
    held = first !== undefined;
    if (!first) return;
    first.granted();
    void first.until.then(next);
  };
  return {
    channel: (): Channel => {
      const own: Channel = {
        onmessage: null,
        close: () => void channels.delete(own),
        postMessage: (data: unknown) => {
          for (const other of channels)
            if (other !== own) queueMicrotask(() => other.onmessage?.({ data: structuredClone(data) } as MessageEvent));
        },
      };
      channels.add(own);
      return own;
    },
    lock: async (_: string, until: Promise<void>, granted: () => void) => {
      const free = !held;
      queue.push({ granted, until });
      if (free) next();
      return free;
    },
  };
};

const entry = (label: string): JournalEntry => ({ kind: 'edit', edit: { label, changes: [] } });
const labelOf = (one: JournalEntry) => (one.kind === 'edit' ? one.edit.label : `to ${one.position}`);

/** A window: what it carried out and took over, and how it stands. */
const windowIn = (around: ReturnType<typeof browser>, revision = 0) => {
  const known = {
    entries: [] as JournalEntry[],
    view: { selection: NOTHING, frontPartId: null, saveState: 'saved' } as SharedView,
    playhead: null as PlayerState | null,
    saved: revision,
    unsaved: [] as JournalEntry[],
    opened: 0,
    take: (view: SharedView): void => {
      known.view = view;
    },
    tookOver: null as { revision: number; unsaved: readonly JournalEntry[] } | null,
  };
  const standing = (): Standing => ({
    open: { id: 'a', revision: known.saved, changedAt: '' } as OpenArrangement,
    unsaved: known.unsaved,
  });
  const link: DeskWindows = new DeskWindows('a', {
    ...around,
    standing,
    view: () => known.view,
    carryOut: (one) => {
      known.entries.push(one);
      known.unsaved.push(one);
      link.done(one);
    },
    take: (one) => void known.entries.push(one),
    stand: () => {
      known.opened += 1;
    },
    look: (view) => known.take(view),
    playhead: (state) => {
      known.playhead = state;
    },
    write: (at, unsaved) => {
      known.tookOver = { revision: at, unsaved };
    },
  });
  return { link, known };
};
const settled = () => new Promise((resolve) => setTimeout(resolve, 5));

describe('windows on one arrangement', () => {
  it('the first writes, the others follow what it carries out, theirs included', async () => {
    const around = browser();
    const first = windowIn(around);
    expect(await first.link.join()).toBe('writes');
    const second = windowIn(around);
    expect(await second.link.join()).toBe('follows');
    expect([first.link.follows, second.link.follows]).toEqual([false, true]);
    second.link.want(entry('from the second'));
    await settled();
    expect(first.known.entries.map(labelOf)).toEqual(['from the second']);
    expect(second.known.entries.map(labelOf)).toEqual(['from the second']);
  });

  it('selection, front part and playhead go both ways, and are not sent back', async () => {
    const around = browser();
    const [first, second] = [windowIn(around), windowIn(around)];
    await first.link.join();
    await second.link.join();
    second.known.view = { ...second.known.view, selection: selectionOf(1, [5]), frontPartId: 1 };
    second.link.looked();
    await settled();
    expect(first.known.view.selection.get(1)?.has(5)).toBe(true);
    let sent = 0;
    const counting = around.channel();
    counting.onmessage = () => {
      sent += 1;
    };
    first.link.looked();
    first.link.played({ playing: true, tick: 480 });
    await settled();
    expect(second.known.playhead).toEqual({ playing: true, tick: 480 });
    second.link.played({ playing: true, tick: 480 });
    await settled();
    expect(sent).toBe(1);
  });

  it('what is taken over step by step is not told back half-way, nor where it came to something else', async () => {
    const around = browser();
    const [first, second] = [windowIn(around), windowIn(around)];
    await first.link.join();
    await second.link.join();
    const heard: unknown[] = [];
    const listening = around.channel();
    listening.onmessage = ({ data }) => void heard.push(data);
    // As a store does: the part first, then the selection, each told at once; and another word for how it is saved.
    second.known.take = (view) => {
      second.known.view = { ...second.known.view, frontPartId: view.frontPartId };
      second.link.looked();
      second.known.view = { ...view, saveState: 'waiting' };
      second.link.looked();
    };
    first.known.view = { selection: selectionOf(1, [5]), frontPartId: 1, saveState: 'elsewhere' };
    first.link.looked();
    await settled();
    second.link.looked();
    await settled();
    expect(heard).toHaveLength(1);
    expect(second.known.view.selection.get(1)?.has(5)).toBe(true);
  });

  it('the next one takes over when the writing one is closed, with all that was not on disk', async () => {
    const around = browser();
    const [first, second] = [windowIn(around, 7), windowIn(around)];
    await first.link.join();
    first.known.unsaved.push(entry('made before the second came'));
    await second.link.join();
    second.link.want(entry('two'));
    second.link.want(entry('three'));
    await settled();
    // The first of them reaches the disk, then the window goes.
    first.link.saved(8);
    await settled();
    first.link.close();
    await settled();
    expect(second.known.tookOver?.revision).toBe(8);
    expect(second.known.tookOver?.unsaved.map(labelOf)).toEqual(['two', 'three']);
    expect(second.link.follows).toBe(false);
    // A third window follows it from now on.
    const third = windowIn(around);
    expect(await third.link.join()).toBe('follows');
  });

  it('a window that comes as the writing one goes writes at once', async () => {
    const around = browser();
    const [first, second] = [windowIn(around), windowIn(around)];
    await first.link.join();
    const joining = second.link.join();
    first.link.close();
    expect(await joining).toBe('writes');
    expect(second.known.opened).toBe(0);
  });
});
