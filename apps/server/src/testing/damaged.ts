/** Files damaged by chance, the same for the same seed: within their text where they are text, within their bytes where not. */

import { unzip } from '@crispfold/core';
import { zipSync } from 'fflate';

/** A chance that is the same each time (W. H. Press and others, Numerical Recipes, the quick one). */
export const chanceFrom = (seed: number): (() => number) => {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
};

/** What is put in the place of numbers and words of a text. */
const ODD = [
  '1e308',
  '-1',
  '0',
  '0.5',
  '1e20',
  '9e15',
  'NaN',
  '',
  '\ud83d',
  'null',
  '99999999999',
  '[]',
  '-0.0001',
  '2+3',
];

const pick = <Item>(all: readonly Item[], chance: () => number): Item => all[Math.floor(chance() * all.length)] as Item;

/** A number or a word of a text made odd, or a piece of it cut out, doubled or moved. */
const damagedText = (text: string, chance: () => number): string => {
  const at = Math.floor(chance() * text.length);
  const way = chance();
  if (way < 0.7) {
    const value = /(?<=>)[^<>]{1,30}(?=<)|(?<=")[^"<>]{1,30}(?=")|(?<=:)-?[\d.]+/g;
    value.lastIndex = at;
    const found = value.exec(text);
    if (!found) return text.slice(0, at);
    return text.slice(0, found.index) + pick(ODD, chance) + text.slice(found.index + found[0].length);
  }
  const piece = text.slice(at, at + Math.floor(chance() * 300));
  if (way < 0.8) return text.slice(0, at) + text.slice(at + piece.length);
  if (way < 0.9) return text.slice(0, at) + piece + text.slice(at);
  const elsewhere = Math.floor(chance() * text.length);
  return text.slice(0, elsewhere) + piece + text.slice(elsewhere);
};

const damagedBytes = (bytes: Uint8Array, chance: () => number): Uint8Array => {
  const copy = new Uint8Array(bytes);
  const way = chance();
  if (way < 0.2) return copy.subarray(0, Math.floor(chance() * copy.length));
  for (let times = 1 + Math.floor(chance() * 12); times > 0; times -= 1)
    copy[Math.floor(chance() * copy.length)] = Math.floor(chance() * 256);
  return copy;
};

const isZip = ([first, second]: Uint8Array): boolean => first === 0x50 && second === 0x4b;
const isText = (bytes: Uint8Array): boolean => !bytes.subarray(0, 200).includes(0);

const once = (bytes: Uint8Array, chance: () => number): Uint8Array => {
  if (isZip(bytes) && chance() < 0.8) {
    // What is packed is damaged, and packed again: else most damage is noticed by the unpacking alone.
    try {
      const entries: { [name: string]: Uint8Array } = { ...unzip(bytes, { wanted: () => true, most: 1e9 }) };
      const name = pick(Object.keys(entries), chance);
      entries[name] = once(entries[name] as Uint8Array, chance);
      return zipSync(entries, { level: 1 });
    } catch {
      return damagedBytes(bytes, chance);
    }
  }
  if (!isText(bytes) || chance() < 0.1) return damagedBytes(bytes, chance);
  return new TextEncoder().encode(damagedText(new TextDecoder().decode(bytes), chance));
};

/** A copy that was damaged so many times. */
export const damaged = (bytes: Uint8Array, seed: number, times: number): Uint8Array => {
  const chance = chanceFrom(seed);
  let copy = bytes;
  for (let time = 0; time < times; time += 1) copy = once(copy, chance);
  return copy;
};
