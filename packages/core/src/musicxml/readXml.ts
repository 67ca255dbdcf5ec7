/** XML documents as elements, and the score within a .mxl file. Entities are never expanded, and nothing is fetched. */

import { XMLParser } from 'fast-xml-parser';
import { unzipSync } from 'fflate';
import { LARGEST_UPLOAD } from '../model/limits.js';
import { failure, type Result, success } from '../model/result.js';

/** An element read: its name, attributes, text, and children in order. */
export class XmlNode {
  constructor(
    readonly name: string,
    readonly attributes: { readonly [name: string]: string },
    readonly children: readonly XmlNode[],
    readonly text: string,
  ) {}

  /** The first child by a name. */
  child(name: string): XmlNode | undefined {
    return this.children.find((own) => own.name === name);
  }

  /** All children by a name. */
  all(name: string): readonly XmlNode[] {
    return this.children.filter((own) => own.name === name);
  }

  /** What stands at the end of a path of names. */
  at(...names: readonly string[]): XmlNode | undefined {
    return names.reduce<XmlNode | undefined>((node, name) => node?.child(name), this);
  }

  /** The text of a child; empty where there is none. */
  textOf(...names: readonly string[]): string {
    return this.at(...names)?.text ?? '';
  }

  /** The number of a child; undefined where there is none. */
  numberOf(...names: readonly string[]): number | undefined {
    const value = Number.parseFloat(this.textOf(...names));
    return Number.isFinite(value) ? value : undefined;
  }
}

const NAMED: { readonly [name: string]: string } = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

/** Text with XML's own five entities and its character references read; any other stays as it is written. */
const decoded = (text: string): string =>
  text.replace(/&(#x[\da-f]+|#\d+|\w+);/gi, (whole, name: string) => {
    if (!name.startsWith('#')) return NAMED[name] ?? whole;
    const code = name[1] === 'x' || name[1] === 'X' ? Number.parseInt(name.slice(2), 16) : Number(name.slice(1));
    return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : '';
  });

type Raw = { readonly [name: string]: unknown };

const nodeOf = (raw: Raw): XmlNode => {
  const name = Object.keys(raw).find((key) => key !== ':@') ?? '';
  const content = (raw[name] ?? []) as readonly Raw[];
  const attributes: { [name: string]: string } = {};
  for (const [key, value] of Object.entries((raw[':@'] ?? {}) as Raw)) attributes[key] = decoded(String(value));
  const children: XmlNode[] = [];
  let text = '';
  for (const child of content) {
    if ('#text' in child) text += String(child['#text']);
    else children.push(nodeOf(child));
  }
  return new XmlNode(name, attributes, children, decoded(text).trim());
};

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: false,
  processEntities: false,
  ignoreDeclaration: true,
  ignorePiTags: true,
});

const DOCTYPE = /<!DOCTYPE[^[>]*(?:\[[\s\S]*?\]\s*)?>/;

const CANNOT = 'This score cannot be read: it ends too soon or is damaged.';

/** The root of a document. */
export const readXml = (text: string): Result<XmlNode> => {
  try {
    // A document type is not looked at: whatever entities it names stay names.
    const plain = text.replace(DOCTYPE, '');
    const roots = (parser.parse(plain, true) as readonly Raw[]).map(nodeOf).filter(({ name }) => name !== '#text');
    const root = roots[roots.length - 1];
    return root ? success(root) : failure('damagedScore', CANNOT);
  } catch {
    return failure('damagedScore', CANNOT);
  }
};

/** True for bytes that begin as a zip file does. */
const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b;

const textOf = (bytes: Uint8Array): string => {
  const [first, second] = bytes;
  const encoding =
    first === 0xff && second === 0xfe ? 'utf-16le' : first === 0xfe && second === 0xff ? 'utf-16be' : 'utf-8';
  return new TextDecoder(encoding).decode(bytes);
};

/** True for what may be a score: a compressed one, or a text that begins as XML does. */
export const isScoreFile = (bytes: Uint8Array): boolean =>
  isZip(bytes) || /^\uFEFF?\s*</.test(textOf(bytes.subarray(0, 200)));

/** The document of a score file, out of its zip where it is in one. */
export const scoreText = (bytes: Uint8Array): Result<string> => {
  if (!isZip(bytes)) return success(textOf(bytes));
  let tooLarge = false;
  try {
    const entries = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (!/\.(xml|musicxml)$/i.test(name)) return false;
        tooLarge ||= originalSize > LARGEST_UPLOAD * 4;
        return !tooLarge;
      },
    });
    if (tooLarge) return failure('tooLarge', 'What is packed in this score is larger than a score can be.');
    const container = entries['META-INF/container.xml'];
    const named = container && /full-path="([^"]+)"/.exec(textOf(container))?.[1];
    const score =
      (named && entries[named]) || Object.entries(entries).find(([name]) => !name.startsWith('META-INF'))?.[1];
    return score ? success(textOf(score)) : failure('noScore', 'There is no score in this compressed file.');
  } catch {
    return failure('damagedScore', 'This compressed score cannot be unpacked: it ends too soon or is damaged.');
  }
};
