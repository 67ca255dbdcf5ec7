/** In which order the bars of a score read in are played, and how long each is: repeats and endings written out. */
import { LONGEST_BAR } from '../model/limits.js';
import { WRITTEN_PPQ } from '../time/units.js';
import type { XmlNode } from './readXml.js';

/** Thrown where a score says what no score can; told in a sentence. */
export class BadScore extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

/** The bar's number as the file says it. */
const barOf = (measure: XmlNode): string => (measure.attributes.number ?? '?').slice(0, 20);

const quoted = (text: string): string => `“${text.slice(0, 40)}”`;

/** Divisions beyond these make no place finer that can be written. */
const MOST_DIVISIONS = 1e6;

/** The divisions of a quarter from here on, where `node` says them. Throws {@link BadScore} for what is no such number. */
export const divisionsOf = (node: XmlNode, measure: XmlNode, before: number): number => {
  const said = node.child('divisions');
  if (!said) return before;
  const divisions = Number(said.text);
  if (divisions > 0 && divisions <= MOST_DIVISIONS) return divisions;
  throw new BadScore(
    'badDivisions',
    `In bar ${barOf(measure)} this score divides the quarter into ${quoted(said.text)}, which is no number of parts. The file is damaged: write it anew from the program that made it.`,
  );
};

const LONGEST_UNITS = LONGEST_BAR * 4 * WRITTEN_PPQ;

/** How long a note, rest, backup or forward is, in written units. Throws {@link BadScore} for what no bar can hold. */
export const lengthOf = (node: XmlNode, measure: XmlNode, divisions: number): number => {
  const said = node.child('duration');
  if (!said) return 0;
  const length = (Number(said.text) / divisions) * WRITTEN_PPQ;
  if (length >= 0 && length <= LONGEST_UNITS) return length;
  throw new BadScore(
    'badLength',
    `Something in bar ${barOf(measure)} of this score lasts ${quoted(said.text)}, which no bar can hold. The file is damaged: write it anew from the program that made it.`,
  );
};

/** The most bars that repeats may make. */
export const MOST_WRITTEN_OUT = 20_000;

/**
 * The bars in the order in which they are played, by their place in the file; repeats and endings of one level. `cut` where
 * repeats make more bars than are written out.
 */
export const playedOrder = (
  measures: readonly XmlNode[],
): { readonly order: readonly number[]; readonly repeats: boolean; readonly cut: boolean } => {
  const order: number[] = [];
  let repeats = false;
  let from = 0;
  let pass = 1;
  let skipping = false;
  // Without repeats there are as many bars as are written.
  const most = Math.max(MOST_WRITTEN_OUT, measures.length);
  let index = 0;
  for (; index < measures.length && order.length < most; index += 1) {
    const barlines = (measures[index] as XmlNode).all('barline');
    const repeat = (direction: string) =>
      barlines.find((own) => own.child('repeat')?.attributes.direction === direction)?.child('repeat');
    if (repeat('forward') && index !== from) [from, pass] = [index, 1];
    const opens = barlines.map((own) => own.child('ending')).find((own) => own?.attributes.type === 'start');
    if (opens) {
      const numbers = (opens.attributes.number ?? '1').split(/[,\s]+/).map(Number);
      skipping = !numbers.includes(pass);
      repeats = true;
    }
    if (!skipping) order.push(index);
    const closes = barlines.some((own) => ['stop', 'discontinue'].includes(own.child('ending')?.attributes.type ?? ''));
    const back = repeat('backward');
    const times = Number(back?.attributes.times ?? 2);
    if (back && !skipping && pass < (Number.isInteger(times) && times >= 2 ? times : 2)) {
      repeats = true;
      pass += 1;
      index = from - 1;
    } else if (back && !skipping) [from, pass] = [index + 1, 1];
    if (closes) skipping = false;
  }
  return { order, repeats, cut: index < measures.length };
};

/**
 * How far the notes and rests of a bar reach, in written units; `divisions` as they stand at its start. Throws
 * {@link BadScore}.
 */
export const reachOf = (
  measure: XmlNode,
  divisions: number,
): { readonly reach: number; readonly divisions: number } => {
  let at = 0;
  let reach = 0;
  let unit = divisions;
  for (const node of measure.children) {
    if (node.name === 'attributes') unit = divisionsOf(node, measure, unit);
    // Nothing lies before its bar.
    if (node.name === 'backup') at = Math.max(0, at - lengthOf(node, measure, unit));
    else if (node.name === 'forward' || (node.name === 'note' && !node.child('chord') && !node.child('grace')))
      at += lengthOf(node, measure, unit);
    reach = Math.max(reach, at);
  }
  if (reach > LONGEST_UNITS)
    throw new BadScore(
      'badLength',
      `Bar ${barOf(measure)} of this score is longer than ${LONGEST_BAR} whole notes, which is as long as a bar is read.`,
    );
  return { reach: Math.round(reach), divisions: unit };
};
