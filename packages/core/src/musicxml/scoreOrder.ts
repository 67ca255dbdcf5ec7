/** In which order the bars of a score read in are played, and how long each is: repeats and endings written out. */
import { WRITTEN_PPQ } from '../time/units.js';
import type { XmlNode } from './readXml.js';

/** The most bars that repeats may make. */
const MOST_WRITTEN_OUT = 20_000;

/** The bars in the order in which they are played, by their place in the file; repeats and endings of one level. */
export const playedOrder = (
  measures: readonly XmlNode[],
): { readonly order: readonly number[]; readonly repeats: boolean } => {
  const order: number[] = [];
  let repeats = false;
  let from = 0;
  let pass = 1;
  let skipping = false;
  for (let index = 0; index < measures.length && order.length < MOST_WRITTEN_OUT; index += 1) {
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
  return { order, repeats };
};

/** How far the notes and rests of a bar reach, in written units; `divisions` as they stand at its start. */
export const reachOf = (
  measure: XmlNode,
  divisions: number,
): { readonly reach: number; readonly divisions: number } => {
  let at = 0;
  let reach = 0;
  let unit = divisions;
  for (const node of measure.children) {
    if (node.name === 'attributes') unit = node.numberOf('divisions') ?? unit;
    const length = ((node.numberOf('duration') ?? 0) / unit) * WRITTEN_PPQ;
    if (node.name === 'backup') at -= length;
    else if (node.name === 'forward' || (node.name === 'note' && !node.child('chord') && !node.child('grace')))
      at += length;
    reach = Math.max(reach, at);
  }
  return { reach: Math.round(reach), divisions: unit };
};
