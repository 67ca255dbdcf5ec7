/**
 * Splits a span of a bar into note values that a player reads at sight: the points that must stay visible in the meter
 * do, and within that there are as few signs as possible. Rules: common practice as in Gould, Behind Bars (2011), ch. 5–6.
 */
import type { MeterNode } from '../time/meterMap.js';

/** A note value: 1 is a whole note, 4 a quarter, up to 128; with 0 or 1 dots. */
export interface NoteValue {
  readonly denominator: 1 | 2 | 4 | 8 | 16 | 32 | 64 | 128;
  readonly dots: 0 | 1;
}

/** One sign: a value that stands from `start` for `length` (same units as the tree). */
export interface ValueSpan {
  readonly start: number;
  readonly length: number;
  readonly value: NoteValue;
}

/** Plain note values, as parts of a whole note. */
const DENOMINATORS = [1, 2, 4, 8, 16, 32, 64, 128] as const;

/** The value that lasts `length`, where a whole note lasts `whole`; undefined where one sign cannot say it. */
export const valueOfLength = (length: number, whole: number): NoteValue | undefined => {
  for (const denominator of DENOMINATORS) {
    const plain = whole / denominator;
    if (length === plain) return { denominator, dots: 0 };
    if (length === plain * 1.5) return { denominator, dots: 1 };
  }
  return undefined;
};

const endOf = (span: { start: number; length: number }): number => span.start + span.length;

/** The smallest node of the tree that holds [start, end]. */
const smallestHolding = (tree: MeterNode, start: number, end: number): MeterNode => {
  let node = tree;
  for (;;) {
    const inner = node.children.find((child) => child.start <= start && endOf(child) >= end);
    if (!inner) return node;
    node = inner;
  }
};

const startsChild = (node: MeterNode, at: number): boolean => node.children.some((child) => child.start === at);
const endsChild = (node: MeterNode, at: number): boolean => node.children.some((child) => endOf(child) === at);

/** True where all children are as long as each other. */
const isEven = (node: MeterNode): boolean =>
  node.children.every((child) => child.length === (node.children[0] as MeterNode).length);

const binaryMayHold = (node: MeterNode, start: number, length: number): boolean => {
  const end = start + length;
  // eighth, quarter, eighth; or a half note in the middle of 4/4
  if (length * 2 === node.length && start === node.start + node.length / 4) return true;
  // dotted value that begins or ends with the span: dotted quarter and eighth, quarter and dotted half
  return length * 4 === node.length * 3 && (start === node.start || end === endOf(node));
};

const ternaryMayHold = (node: MeterNode, start: number, length: number, compoundBeat: boolean): boolean => {
  const child = (node.children[0] as MeterNode).length;
  const end = start + length;
  if (startsChild(node, start) && endsChild(node, end)) return true;
  if (compoundBeat) return length === child * 1.5 && start === node.start;
  // 3/4: quarter between two eighths, dotted quarter that begins or ends on a beat
  if (length === child) return start - node.start === child / 2 || start - node.start === child * 1.5;
  return length === child * 1.5 && (startsChild(node, start) || endsChild(node, end));
};

/** Whether one note may stand there. `beat` is the length of a plain beat (a quarter): below it a node of three is a dotted beat. */
const noteMayStand = (tree: MeterNode, start: number, length: number, beat: number): boolean => {
  const node = smallestHolding(tree, start, start + length);
  if (node.start === start && node.length === length) return true;
  if (!isEven(node)) return false;
  if (node.children.length === 2) {
    // Two dotted beats hide each other unless the whole is filled.
    if ((node.children[0] as MeterNode).children.length === 3) return false;
    return binaryMayHold(node, start, length);
  }
  if (node.children.length === 3) {
    const compoundBeat = (node.children[0] as MeterNode).length < beat;
    if ((node.children[0] as MeterNode).children.length === 3)
      return startsChild(node, start) && endsChild(node, start + length);
    return ternaryMayHold(node, start, length, compoundBeat);
  }
  return startsChild(node, start) && endsChild(node, start + length) && node.children.length > 3;
};

/** Whether one rest may stand there: on its own place in the meter only, and in a dotted beat its first two thirds. */
const restMayStand = (tree: MeterNode, start: number, length: number, beat: number): boolean => {
  const node = smallestHolding(tree, start, start + length);
  if (node.start === start && node.length === length) return true;
  const child = node.children[0];
  return (
    node.children.length === 3 &&
    isEven(node) &&
    !!child &&
    child.length < beat &&
    start === node.start &&
    length === child.length * 2
  );
};

const greatestCommonDivisor = (a: number, b: number): number => (b === 0 ? a : greatestCommonDivisor(b, a % b));

/** What a sign costs a reader: one each, a dot a little. */
const costOf = (value: NoteValue): number => 1 + value.dots * 0.2;

interface Split {
  readonly spans: readonly ValueSpan[];
  readonly cost: number;
}

const cache = new WeakMap<
  MeterNode,
  { readonly note: Map<number, Split | null>; readonly rest: Map<number, Split | null> }
>();
/** Larger than any place in a bar: start and end make one key. */
const KEY_BASE = 2 ** 20;

/**
 * The signs for [start, end) in a bar (or tuplet) laid out as `tree`, where a whole note lasts `whole`. Start and end are
 * whole multiples of a 128th (in a tuplet, of a 128th of the tuplet's own values).
 */
export const splitIntoValues = (
  tree: MeterNode,
  start: number,
  end: number,
  whole: number,
  kind: 'note' | 'rest',
): readonly ValueSpan[] => {
  const split = splitOf(tree, start, end, whole, kind);
  if (!split) throw new Error(`No note values for ${start} to ${end}`);
  return split.spans;
};

/** Null where no values make up the span: a bar that was cut at an odd tick. */
const splitOf = (tree: MeterNode, start: number, end: number, whole: number, kind: 'note' | 'rest'): Split | null => {
  let known = cache.get(tree);
  if (!known) {
    known = { note: new Map(), rest: new Map() };
    cache.set(tree, known);
  }
  const key = start * KEY_BASE + end;
  let split = known[kind].get(key);
  if (split === undefined) {
    const spans = cheapestSplit(tree, start, end, whole, kind);
    const signs = spans?.reduce((sum, span) => sum + costOf(span.value), 0) ?? 0;
    split = spans && { spans, cost: kind === 'note' ? signs + (spans.length - 1) : signs };
    known[kind].set(key, split);
  }
  return split;
};

/** Lengths of the tree's first spans, level by level, down to `least`: places where a sign may have to end. */
const lengthsDown = (tree: MeterNode, least: number): number[] => {
  const lengths: number[] = [];
  for (let node = tree.children[0]; node && node.length >= least; node = node.children[0]) lengths.push(node.length);
  return lengths;
};

const cheapestSplit = (
  tree: MeterNode,
  start: number,
  end: number,
  whole: number,
  kind: 'note' | 'rest',
): ValueSpan[] | null => {
  const coarsest = [end - tree.start, whole / 8, ...lengthsDown(tree, whole / 16)].reduce(
    greatestCommonDivisor,
    start - tree.start,
  );
  // Where signs that end on coarse places alone do not fit, as rests of two fifths, finer ones are tried.
  for (let unit = coarsest; unit >= whole / 128; unit /= 2) {
    const spans = cheapestInUnits(tree, start, end, whole, kind, unit);
    if (spans) return spans;
  }
  return null;
};

/** The cheapest signs that all begin and end on multiples of a unit from the start. */
const cheapestInUnits = (
  tree: MeterNode,
  start: number,
  end: number,
  whole: number,
  kind: 'note' | 'rest',
  unit: number,
): ValueSpan[] | null => {
  const count = Math.round((end - start) / unit);
  const mayStand = kind === 'note' ? noteMayStand : restMayStand;
  const best: { cost: number; from: number; value: NoteValue | null }[] = [{ cost: 0, from: 0, value: null }];
  for (let to = 1; to <= count; to += 1) {
    let choice = { cost: Number.POSITIVE_INFINITY, from: 0, value: null as NoteValue | null };
    for (let from = 0; from < to; from += 1) {
      const before = best[from] as { cost: number };
      if (before.cost + 1 >= choice.cost + 1e-9) continue;
      const length = (to - from) * unit;
      const value = valueOfLength(length, whole);
      if (!value || !mayStand(tree, start + from * unit, length, whole / 4)) continue;
      const cost = before.cost + costOf(value);
      if (cost < choice.cost - 1e-9) choice = { cost, from, value };
    }
    best.push(choice);
  }
  const spans: ValueSpan[] = [];
  for (let at = count; at > 0; ) {
    const step = best[at] as (typeof best)[number];
    if (!step.value) return null;
    spans.unshift({ start: start + step.from * unit, length: (at - step.from) * unit, value: step.value });
    at = step.from;
  }
  return spans;
};

/** The price of a span that no values make up; the page writes it to the nearest that they do. */
const UNREADABLE = 8;

/** What the signs of [start, end) cost a reader: heads or rests, dots, and a tie between each two heads. */
export const readingCost = (
  tree: MeterNode,
  start: number,
  end: number,
  whole: number,
  kind: 'note' | 'rest',
): number => {
  return end <= start ? 0 : (splitOf(tree, start, end, whole, kind)?.cost ?? UNREADABLE);
};
