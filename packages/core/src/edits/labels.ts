/** What the history calls a change of notes. */
import type { Part } from '../model/arrangement.js';

/** A change of more parts names the first of them, and counts the rest. */
const MOST_NAMED = 6;
/** Longer names are cut: a label is a line. */
const LONGEST_NAME = 40;

const named = ({ name }: Pick<Part, 'name'>): string =>
  name.length > LONGEST_NAME ? `${name.slice(0, LONGEST_NAME - 1)}…` : name;

/** "Move: 2 notes in Flute", "Move: 2 notes in Flute, 1 in Cello", or with "and 40 in 12 other parts" at its end. */
export const labelFor = (
  verb: string,
  counts: readonly { readonly part: Pick<Part, 'name'>; readonly count: number }[],
  one: 'note' | 'point' = 'note',
): string => {
  const shown = counts.slice(0, counts.length > MOST_NAMED ? MOST_NAMED - 1 : MOST_NAMED);
  const others = counts.slice(shown.length);
  const left = others.reduce((sum, { count }) => sum + count, 0);
  const pieces = shown.map(
    ({ part, count }, index) => `${index === 0 ? `${count} ${one}${count === 1 ? '' : 's'}` : count} in ${named(part)}`,
  );
  return `${verb}: ${pieces.join(', ')}${others.length > 0 ? ` and ${left} in ${others.length} other parts` : ''}`;
};
