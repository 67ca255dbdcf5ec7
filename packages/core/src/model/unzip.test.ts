import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { DamagedZip, UnpacksTooLarge, unzip } from './unzip.js';

const all = { wanted: () => true, most: 1_000_000 };
const blanks = (bytes: number) => new Uint8Array(bytes).fill(32);

/** The same zip, but that it says its entries are so long once they are unpacked. */
const lying = (zip: Uint8Array, length: number): Uint8Array => {
  const copy = new Uint8Array(zip);
  const view = new DataView(copy.buffer);
  for (let at = 0; at + 30 < copy.length; at += 1) {
    if (view.getUint32(at, true) === 0x04034b50) view.setUint32(at + 22, length, true);
    if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, length, true);
  }
  return copy;
};

describe('a zip', () => {
  it('gives what is wanted of it, packed or not', () => {
    const zip = zipSync({
      'a.txt': strToU8('one'),
      'b.txt': [strToU8('two'), { level: 0 }],
      'c/d.txt': strToU8('three'),
    });
    const found = unzip(zip, { ...all, wanted: (name) => name !== 'a.txt' });
    expect(Object.keys(found).sort()).toEqual(['b.txt', 'c/d.txt']);
    expect(new TextDecoder().decode(found['b.txt'])).toBe('two');
  });

  it('is bounded in all, entries that nobody wants among it, and what it says of itself is not believed', () => {
    const ten = zipSync(Object.fromEntries(Array.from({ length: 10 }, (_, at) => [`${at}.xml`, blanks(200_000)])));
    expect(() => unzip(ten, all)).toThrow(UnpacksTooLarge);
    expect(() => unzip(ten, { ...all, wanted: () => false })).toThrow(UnpacksTooLarge);
    expect(() => unzip(lying(zipSync({ 'a.xml': blanks(2_000_000) }), 10), all)).toThrow(UnpacksTooLarge);
    const many = zipSync(Object.fromEntries(Array.from({ length: 1001 }, (_, at) => [`${at}`, new Uint8Array()])));
    expect(() => unzip(many, all)).toThrow(UnpacksTooLarge);
  });

  it('is given up before much more than its bound came out of it', () => {
    let out = 0;
    const onBytes = (count: number) => {
      out += count;
    };
    expect(() => unzip(zipSync({ a: [blanks(60_000_000), { level: 1 }] }), { ...all, onBytes })).toThrow(
      UnpacksTooLarge,
    );
    expect(out).toBeLessThan(20_000_000);
  });

  it('that is damaged, or none, is told apart', () => {
    const zip = zipSync({ 'a.txt': strToU8('some words that are packed, some words that are packed') });
    expect(() => unzip(zip.subarray(0, 20), all)).toThrow(DamagedZip);
    expect(() => unzip(strToU8('no zip at all'), all)).toThrow(DamagedZip);
    expect(() => unzip(new Uint8Array(), all)).toThrow(DamagedZip);
  });

  it('hands on what stops the work', () => {
    class Stop extends Error {}
    const onBytes = () => {
      throw new Stop();
    };
    expect(() => unzip(zipSync({ a: blanks(10) }), { ...all, onBytes })).toThrow(Stop);
  });
});
