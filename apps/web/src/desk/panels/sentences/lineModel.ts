/** A line of a sentence as its editor shows it: conditions in a row, and words for the menus. No browser here. */

import { type Condition, piecesOf, type SentenceLine } from '@crispfold/core';

/** What is said of a kind in the menu of kinds: its words with the fields left open. */
export const inMenu = (words: string): string =>
  piecesOf(words)
    .map((piece) => ('words' in piece ? piece.words : '…'))
    .join(' ')
    .replaceAll(' ,', ',');

/** The conditions in a row, each with what joins it to the one before. */
export type Joined = readonly { readonly condition: Condition; readonly or: boolean }[];

/** The conditions of a line in a row. */
export const joinedOf = (where: SentenceLine['where']): Joined =>
  where.flatMap((way, at) => way.map((condition, index) => ({ condition, or: at > 0 && index === 0 })));

/** The same as a line has them: ways that are joined by “or”, each of conditions that are joined by “and”. */
export const waysOf = (joined: Joined): SentenceLine['where'] =>
  joined.reduce<Condition[][]>((ways, { condition, or }) => {
    const last = ways[ways.length - 1];
    if (last && !or) last.push(condition);
    else ways.push([condition]);
    return ways;
  }, []);

/** The row with one of its conditions changed. */
export const withCondition = (joined: Joined, at: number, next: Partial<Joined[number]>): Joined =>
  joined.map((one, index) => (index === at ? { ...one, ...next } : one));

/** A list without one of its items. */
export const without = <Item>(list: readonly Item[], at: number): readonly Item[] =>
  list.filter((_, index) => index !== at);
