import { describe, expect, it } from 'vitest';
import { createIdTable } from './idTable.js';

const records = (...ids: number[]) => ids.map((noteId) => ({ noteId }));

describe('a table by note id', () => {
  for (const [kind, ids] of [
    ['close together', [7, 3, 9, 8]],
    ['far apart, as made notes are', [7, 2 ** 50, 3]],
  ] as const) {
    it(`finds what was set, for ids ${kind}`, () => {
      const table = createIdTable<string | null>(records(...ids));
      for (const id of ids) table.set(id, `of ${id}`);
      table.set(ids[1], null);
      expect(ids.map((id) => table.get(id))).toEqual(ids.map((id, index) => (index === 1 ? null : `of ${id}`)));
      expect(table.get(4)).toBeUndefined();
      expect(table.get(2)).toBeUndefined();
      expect(table.get(2 ** 51)).toBeUndefined();
      expect(table.size()).toBe(ids.length);
    });
  }

  it('is empty of no records', () => {
    const table = createIdTable(records());
    expect([table.get(1), table.size()]).toEqual([undefined, 0]);
  });
});
