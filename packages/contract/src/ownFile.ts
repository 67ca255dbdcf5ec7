/** Files of our own that a person takes away and brings back: JSON that says what it is, and of which version. */

/** What a kind of file says it is, and what is said of one that is something else. */
export interface OwnFile {
  /** The value of "format". */
  readonly format: string;
  /** The newest version that is read. */
  readonly version: number;
  /** "This is not a plan". */
  readonly denial: string;
  /** "This plan is". */
  readonly subject: string;
}

/** The text of a file. */
export const ownFileText = ({ format }: OwnFile, content: object): string =>
  `${JSON.stringify({ format, ...content }, null, 2)}\n`;

/** What is in the text of a file of this kind; a message that a person understands where it is none, or newer. */
export const readOwnFile = (
  text: string,
  { format, version, denial, subject }: OwnFile,
):
  | { readonly ok: true; readonly content: { readonly [key: string]: unknown } }
  | { readonly ok: false; readonly message: string } => {
  let value: { readonly [key: string]: unknown } | null;
  try {
    value = JSON.parse(text);
  } catch {
    return { ok: false, message: `${denial}: it is not JSON.` };
  }
  if (typeof value !== 'object' || value === null || value.format !== format) {
    return { ok: false, message: `${denial}: "format" is not "${format}".` };
  }
  const { format: _, ...content } = value;
  if (typeof content.version === 'number' && content.version > version) {
    return {
      ok: false,
      message: `${subject} of version ${content.version}, newer than this Crisp Fold, which reads ${version}. Nothing was taken.`,
    };
  }
  return { ok: true, content };
};
