import type { LibraryItem } from '@crispfold/contract';
import { describe, expect, it } from 'vitest';
import { glanceInWords, shelved, tagsInUse, tagsTyped } from './listed.js';

const item = (id: string, title: string, more: Partial<LibraryItem> = {}): LibraryItem => ({
  id,
  title,
  parts: [{ name: 'Flute', instrument: 'flute', notes: 3 }],
  bars: 4,
  seconds: 10,
  changedAt: '2026-01-01T00:00:00.000Z',
  tags: [],
  glance: null,
  ...more,
});
const items = [
  item('a', 'Étude 10', { seconds: 90, changedAt: '2026-03-01T00:00:00.000Z' }),
  item('b', 'Etude 9', { tags: ['Quartet', 'spring'], changedAt: '2026-04-01T00:00:00.000Z' }),
  item('c', 'March', { parts: ['Horn in F', 'Tuba'].map((name) => ({ name, instrument: 'horn', notes: 1 })) }),
];
const found = (...args: [string, (string | null)?, Parameters<typeof shelved>[3]?]) =>
  shelved(items, args[0], args[1] ?? null, args[2] ?? 'changed').map(({ id }) => id);

describe('the library’s list', () => {
  it('is narrowed by every word typed, in titles, parts and tags, accents and capitals aside', () => {
    expect(found('etude')).toEqual(['b', 'a']);
    expect(found('ÉTUDE 9')).toEqual(['b']);
    expect(found('horn')).toEqual(['c']);
    expect(found('quart flute')).toEqual(['b']);
    expect(found('quart horn')).toEqual([]);
    expect(found('', 'spring')).toEqual(['b']);
  });

  it('is put in order: last changed, titles with their numbers, length, parts', () => {
    expect(found('')).toEqual(['b', 'a', 'c']);
    expect(found('', null, 'title')).toEqual(['b', 'a', 'c']);
    expect(found('', null, 'longest')).toEqual(['a', 'b', 'c']);
    expect(found('', null, 'parts')[0]).toBe('c');
  });

  it('has its tags by name, and takes them typed between commas', () => {
    expect(tagsInUse(items)).toEqual(['Quartet', 'spring']);
    expect(tagsTyped(' for  school, Quartet ,, Quartet')).toEqual(['for school', 'Quartet']);
  });
});

describe('a glance', () => {
  it('says what is open, what there is to read, and whether it changed since', () => {
    const reads = { before: 9.8, after: 3.1 };
    expect(glanceInWords({ findings: 34, wrong: 2, reads, changedSince: false })).toBe(
      '34 findings, 2 surely wrong · 3.1 signs a bar to read, 9.8 as played',
    );
    expect(glanceInWords({ findings: 0, wrong: 0, reads: null, changedSince: true })).toBe(
      'no findings · changed since',
    );
  });
});
