/** Which arrangements of the library are listed, and in which order. */
import type { LibraryItem } from '@crispfold/contract';
import { counted } from '../ui/words.js';

export const LIBRARY_ORDERS = ['changed', 'title', 'longest', 'parts'] as const;
/** One of them. */
export type LibraryOrder = (typeof LIBRARY_ORDERS)[number];

/** Their names. */
export const ORDER_NAMES: { readonly [order in LibraryOrder]: string } = {
  changed: 'last changed first',
  title: 'by title',
  longest: 'longest first',
  parts: 'most parts first',
};

const byTitle = (a: LibraryItem, b: LibraryItem): number =>
  a.title.localeCompare(b.title, undefined, { numeric: true, sensitivity: 'base' });

const COMPARE: { readonly [order in LibraryOrder]: (a: LibraryItem, b: LibraryItem) => number } = {
  changed: (a, b) => b.changedAt.localeCompare(a.changedAt),
  title: byTitle,
  longest: (a, b) => b.seconds - a.seconds || byTitle(a, b),
  parts: (a, b) => b.parts.length - a.parts.length || byTitle(a, b),
};

const plain = (text: string): string => text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();

/** Those in which every word that was typed is found, in title, parts or tags, accents aside; in the order asked for. */
export const shelved = <Item extends LibraryItem>(
  items: readonly Item[],
  typed: string,
  tag: string | null,
  order: LibraryOrder,
): Item[] => {
  const words = plain(typed).split(/\s+/).filter(Boolean);
  return items
    .filter((item) => tag === null || item.tags.includes(tag))
    .filter((item) => {
      const text = plain([item.title, ...item.parts.map(({ name }) => name), ...item.tags].join(' '));
      return words.every((word) => text.includes(word));
    })
    .sort(COMPARE[order]);
};

/** All tags in use, by name. */
export const tagsInUse = (items: readonly LibraryItem[]): string[] =>
  [...new Set(items.flatMap(({ tags }) => tags))].sort((a, b) => a.localeCompare(b));

/** Tags as they are typed in one field, between commas. */
export const tagsTyped = (text: string): string[] => [
  ...new Set(text.split(',').flatMap((tag) => tag.trim().replace(/\s+/g, ' ') || [])),
];

/** "34 findings, 2 surely wrong · 3.1 signs a bar to read, 9.8 as played". */
export const glanceInWords = ({ findings, wrong, reads, changedSince }: NonNullable<LibraryItem['glance']>): string => {
  const found = findings === 0 ? 'no findings' : counted(findings, 'finding');
  return [
    `${found}${wrong > 0 ? `, ${wrong} surely wrong` : ''}`,
    ...(reads ? [`${reads.after} signs a bar to read, ${reads.before} as played`] : []),
    ...(changedSince ? ['changed since'] : []),
  ].join(' · ');
};
