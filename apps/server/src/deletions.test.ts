/** Deleting, restoring, duplicating, archiving and editing one arrangement all at once: each takes its turn. */
import { demoArrangement, preludeArrangement } from '@crispfold/core';
import { cases } from '@crispfold/core/testing/cases';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ArrangementStore } from './arrangementStore.js';
import type { Database } from './db/database.js';
import { openStore } from './testing/running.js';

let database: Database;
let store: ArrangementStore;
beforeAll(async () => {
  ({ database, store } = await openStore());
});
afterAll(() => database.close());

const DEEDS = ['edit', 'open', 'remove', 'restore', 'removeForGood', 'duplicate', 'takeAway', 'undo'] as const;
type Deed = (typeof DEEDS)[number];

/** Carries one out; answers what came of it, or the status that says why not. */
const carryOut = async (id: string, deed: Deed, number: number): Promise<unknown> => {
  try {
    switch (deed) {
      case 'edit':
        return await store.update(id, null, ({ title }) => [
          {
            kind: 'edit',
            edit: {
              label: `change ${number}`,
              changes: [{ kind: 'arrangementFields', before: { title }, after: { title: `${title}.` } }],
            },
          },
        ]);
      case 'undo':
        return await store.update(id, null, () => [{ kind: 'goTo', position: 0 }]);
      default:
        return await store[deed](id);
    }
  } catch (error) {
    const { status } = error as { status?: number };
    if (status === undefined) throw error;
    return status;
  }
};

describe('an arrangement', () => {
  it('that was deleted while an edit was under way takes no edit and does not open, and comes back whole', async () => {
    for (let round = 0; round < 15; round += 1) {
      const id = await store.create(preludeArrangement());
      const [, , late] = await Promise.all([
        carryOut(id, 'edit', 0),
        carryOut(id, 'remove', 1),
        carryOut(id, 'edit', 2),
      ]);
      expect(late).toBe(410);
      expect(await carryOut(id, 'open', 3)).toBe(410);
      await store.restore(id);
      expect((await store.open(id)).history.entries.map(({ label }) => label)).toEqual(['change 0']);
    }
  });

  it('that is deleted for good is gone at once', async () => {
    const id = await store.create(preludeArrangement());
    await Promise.all([carryOut(id, 'edit', 0), carryOut(id, 'remove', 1), carryOut(id, 'removeForGood', 2)]);
    expect(await carryOut(id, 'open', 3)).toBe(404);
    expect(await carryOut(id, 'edit', 4)).toBe(404);
  });

  it('with the longest title has a copy whose title is not too long, and whole', async () => {
    const id = await store.create({ ...demoArrangement(), title: `${'x'.repeat(193)}😀xxxxx` });
    const { arrangement } = await store.open(await store.duplicate(id));
    expect(arrangement.title).toBe(`${'x'.repeat(193)}, copy`);
  });

  it('is after any deeds at once where one after another would have left it', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.constantFrom(...DEEDS), { minLength: 2, maxLength: 12 }), async (deeds) => {
        const id = await store.create(preludeArrangement());
        const answers = await Promise.all(deeds.map((deed, number) => carryOut(id, deed, number)));
        // Gone through in the order in which they came.
        let at = 'library' as 'library' | 'bin' | 'gone';
        let labels: string[] = [];
        deeds.forEach((deed, number) => {
          const answer = answers[number];
          const needsOpen = !['remove', 'restore', 'removeForGood'].includes(deed);
          if (at === 'gone') expect(answer, deed).toBe(404);
          else if (needsOpen && at === 'bin') expect(answer, deed).toBe(410);
          else if (deed === 'removeForGood' && at === 'library') expect(answer).toBe(404);
          else expect(typeof answer, deed).not.toBe('number');
          if (at === 'gone') return;
          if (deed === 'remove') at = 'bin';
          else if (deed === 'restore') at = 'library';
          else if (deed === 'removeForGood' && at === 'bin') at = 'gone';
          else if (deed === 'edit' && at === 'library') labels = [...labels, `change ${number}`];
          else if (deed === 'undo' && at === 'library') labels = [];
        });
        if (at === 'bin') await store.restore(id);
        const open = await carryOut(id, 'open', 99);
        if (at === 'gone') expect(open).toBe(404);
        else {
          const { history } = open as Awaited<ReturnType<ArrangementStore['open']>>;
          expect(history.entries.slice(0, history.position).map(({ label }) => label)).toEqual(labels);
        }
      }),
      cases(60),
    );
  });
});
