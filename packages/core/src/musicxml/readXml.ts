/** XML documents as elements, and the score within a .mxl file. Entities are never expanded, and nothing is fetched. */

import { SaxesParser } from 'saxes';
import { LARGEST_UNPACKED_SCORE, MOST_ELEMENTS } from '../model/limits.js';
import { failure, type Result, success } from '../model/result.js';
import { DamagedZip, UnpacksTooLarge, unzip } from '../model/unzip.js';
import type { OnWork } from '../model/work.js';

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

/** Thrown where a document holds more than can be read. */
class TooMany extends Error {}

const CANNOT = 'This score cannot be read: it ends too soon or is damaged.';

interface Open {
  readonly name: string;
  readonly attributes: { readonly [name: string]: string };
  /** Null until the first one comes: most elements have none. */
  children: XmlNode[] | null;
  text: string;
}

const NO_ATTRIBUTES: { readonly [name: string]: string } = {};
const NO_CHILDREN: readonly XmlNode[] = [];
/** Elements of a score lie within one another no deeper than ten or so; a document that goes on is none. */
const DEEPEST = 100;
/** Texts up to so many characters are kept once, however often they stand in a score. */
const SHORT = 12;

/** Builds the root of a document as its text comes in. */
const createReader = () => {
  const parser = new SaxesParser({ fragment: false, position: false });
  const open: Open[] = [];
  let elements = 0;
  let root: XmlNode | undefined;
  const known = new Map<string, string>();
  const once = (text: string): string => {
    if (text.length > SHORT) return text;
    const same = known.get(text);
    if (same !== undefined) return same;
    known.set(text, text);
    return text;
  };
  parser.on('error', (error) => {
    // Entities of a document's own are never looked up: they stay as they are written.
    if (!/undefined entity/.test(error.message)) throw error;
  });
  parser.on('opentag', ({ name, attributes }) => {
    elements += 1;
    if (elements > MOST_ELEMENTS) throw new TooMany();
    if (open.length > DEEPEST) throw new Error(CANNOT);
    let own = NO_ATTRIBUTES;
    for (const _ in attributes) {
      own = attributes as { [name: string]: string };
      break;
    }
    open.push({ name: once(name), attributes: own, children: null, text: '' });
  });
  const add = (text: string) => {
    const own = open[open.length - 1];
    if (own) own.text += text;
  };
  parser.on('text', add);
  parser.on('cdata', add);
  parser.on('closetag', () => {
    const own = open.pop();
    if (!own) return;
    const node = new XmlNode(own.name, own.attributes, own.children ?? NO_CHILDREN, once(own.text.trim()));
    const around = open[open.length - 1];
    if (!around) root = node;
    else if (around.children) around.children.push(node);
    else around.children = [node];
  });
  return {
    write: (text: string) => void parser.write(text),
    /** The root of what was written; undefined where there is none. */
    end: (): XmlNode | undefined => {
      parser.close();
      return root;
    },
  };
};

/** So much of a document is read at a time, in bytes. */
const PIECE = 256 * 1024;

/** The root of a document; `onWork` is told how many bytes of it were read, and may throw. */
export const readXml = (bytes: Uint8Array, onWork: OnWork = () => undefined): Result<XmlNode> => {
  const decoder = new TextDecoder(encodingOf(bytes));
  const reader = createReader();
  for (let at = 0; at < bytes.length; at += PIECE) {
    const piece = bytes.subarray(at, at + PIECE);
    onWork(piece.length);
    try {
      reader.write(decoder.decode(piece, { stream: true }));
    } catch (error) {
      if (!(error instanceof TooMany)) return failure('damagedScore', CANNOT);
      return failure('tooLarge', `This score holds more than ${MOST_ELEMENTS.toLocaleString('en')} signs.`);
    }
  }
  try {
    reader.write(decoder.decode());
    const root = reader.end();
    return root ? success(root) : failure('damagedScore', CANNOT);
  } catch {
    return failure('damagedScore', CANNOT);
  }
};

/** True for bytes that begin as a zip file does. */
const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b;

const encodingOf = ([first, second]: Uint8Array): string =>
  first === 0xff && second === 0xfe ? 'utf-16le' : first === 0xfe && second === 0xff ? 'utf-16be' : 'utf-8';

const textOf = (bytes: Uint8Array): string => new TextDecoder(encodingOf(bytes)).decode(bytes);

/** True for what may be a score: a compressed one, or a text that begins as XML does. */
export const isScoreFile = (bytes: Uint8Array): boolean =>
  isZip(bytes) || /^\uFEFF?\s*</.test(textOf(bytes.subarray(0, 200)));

const CONTAINER = 'META-INF/container.xml';

/** The document of a score file, out of its zip where it is in one. */
export const scoreBytes = (bytes: Uint8Array): Result<Uint8Array> => {
  if (!isZip(bytes)) return success(bytes);
  try {
    const entries = unzip(bytes, {
      wanted: (name) => /\.(xml|musicxml)$/i.test(name),
      most: LARGEST_UNPACKED_SCORE,
    });
    const container = entries[CONTAINER];
    const named = container && /full-path="([^"]+)"/.exec(textOf(container))?.[1];
    const score =
      (named && entries[named]) || Object.entries(entries).find(([name]) => !name.startsWith('META-INF'))?.[1];
    return score ? success(score) : failure('noScore', 'There is no score in this compressed file.');
  } catch (error) {
    if (error instanceof UnpacksTooLarge)
      return failure('tooLarge', 'What is packed in this score is larger than a score can be.');
    if (!(error instanceof DamagedZip)) throw error;
    return failure('damagedScore', 'This compressed score cannot be unpacked: it ends too soon or is damaged.');
  }
};
