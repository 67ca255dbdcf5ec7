import type { JournalEntry, NotePatch, Pair } from '@crispfold/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { packed, packedEntry, unpacked, unpackedEntry } from './packing.js';

const entryOf = (changed: readonly Pair<NotePatch>[]): JournalEntry => ({
  kind: 'edit',
  edit: { label: 'Change', changes: [{ kind: 'notes', partId: 1, added: [], removed: [], changed }] },
});

describe('what is kept', () => {
  it('comes back the very same, whatever fields the pairs have', async () => {
    const value = fc.option(fc.integer({ min: 0, max: 2 ** 40 }), { nil: null });
    const pairs = fc.uniqueArray(fc.tuple(fc.integer({ min: 1, max: 2 ** 40 }), value, value), {
      selector: ([id]) => id,
      maxLength: 40,
    });
    await fc.assert(
      fc.asyncProperty(pairs, fc.constantFrom('pitch', 'onset', 'releaseVelocity'), async (list, field) => {
        const entry = entryOf(
          list.map(([id, before, after]) => ({
            before: { id, [field]: before },
            after: { id, [field]: after },
          })),
        );
        expect(await unpackedEntry(await packedEntry(entry))).toEqual(entry);
      }),
    );
    const goTo: JournalEntry = { kind: 'goTo', position: 7 };
    expect(await unpackedEntry(await packedEntry(goTo))).toEqual(goTo);
    expect(await unpacked(await packed({ a: ['ü', 1] }))).toEqual({ a: ['ü', 1] });
  });

  it('takes next to no room where thirty thousand notes change alike', async () => {
    const all = Array.from({ length: 30_000 }, (_, at) => {
      const pitch = 36 + ((at * 7919) % 60);
      return { before: { id: at + 1, pitch }, after: { id: at + 1, pitch: pitch + 2 } };
    });
    const data = await packedEntry(entryOf(all));
    // As JSON it is over a million characters.
    expect(JSON.stringify(entryOf(all)).length).toBeGreaterThan(1_500_000);
    expect(data.length).toBeLessThan(60_000);
  });
});
