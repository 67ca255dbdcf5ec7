/** XML elements as plain data, written by fast-xml-parser. */
import { XMLBuilder } from 'fast-xml-parser';

/** What XML 1.0 (section 2.2) does not allow in a document, in whatever way it is written; lone surrogates among it. */
const FORBIDDEN = /[^\t\n\r\u{20}-\u{D7FF}\u{E000}-\u{FFFD}\u{10000}-\u{10FFFF}]/gu;

/** Text as a document may hold it: characters that XML forbids are left out. */
export const xmlText = (text: string | number): string => String(text).replace(FORBIDDEN, '');

type Node = { [name: string]: unknown };

/** An element with attributes and content (text, or elements in order; undefined ones are left out). */
export const element = (
  name: string,
  content: string | number | readonly (Node | undefined | false)[] = [],
  attributes: { readonly [name: string]: string | number | undefined } = {},
): Node => {
  const children =
    typeof content === 'object' ? content.filter((child): child is Node => !!child) : [{ '#text': xmlText(content) }];
  const given = Object.entries(attributes).filter(([, value]) => value !== undefined);
  const node: Node = { [name]: children };
  if (given.length > 0)
    node[':@'] = Object.fromEntries(given.map(([key, value]) => [`@_${key}`, xmlText(value ?? '')]));
  return node;
};

/** An element as data. */
export type XmlElement = Node;

const builderWith = (format: boolean) =>
  new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    suppressEmptyNode: true,
    format,
    indentBy: ' ',
    processEntities: true,
  });
const builders = { lines: builderWith(true), dense: builderWith(false) };

/** An element a line, as people read it, or as short as may be. */
export type XmlLook = keyof typeof builders;

/** Serialises a document: declaration, document type, root. */
export const xmlDocument = (doctype: string, root: XmlElement, look: XmlLook = 'lines'): string =>
  `<?xml version="1.0" encoding="UTF-8" standalone="no"?>\n${doctype}${builders[look].build([root])}\n`;
