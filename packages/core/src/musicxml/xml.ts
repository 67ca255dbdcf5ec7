/** XML elements as plain data, written by fast-xml-parser. */
import { XMLBuilder } from 'fast-xml-parser';

type Node = { [name: string]: unknown };

/** An element with attributes and content (text, or elements in order; undefined ones are left out). */
export const element = (
  name: string,
  content: string | number | readonly (Node | undefined | false)[] = [],
  attributes: { readonly [name: string]: string | number | undefined } = {},
): Node => {
  const children =
    typeof content === 'object' ? content.filter((child): child is Node => !!child) : [{ '#text': String(content) }];
  const given = Object.entries(attributes).filter(([, value]) => value !== undefined);
  const node: Node = { [name]: children };
  if (given.length > 0) node[':@'] = Object.fromEntries(given.map(([key, value]) => [`@_${key}`, String(value)]));
  return node;
};

/** An element as data. */
export type XmlElement = Node;

const builder = new XMLBuilder({
  preserveOrder: true,
  ignoreAttributes: false,
  suppressEmptyNode: true,
  format: true,
  indentBy: ' ',
  processEntities: true,
});

/** Serialises a document: declaration, document type, root. */
export const xmlDocument = (doctype: string, root: XmlElement): string =>
  `<?xml version="1.0" encoding="UTF-8" standalone="no"?>\n${doctype}${builder.build([root])}\n`;
