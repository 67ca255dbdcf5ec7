/** Notes on the system's clipboard: our own JSON, checked like any other text from outside. */
import type { Copied } from '@crispfold/core';
import * as yup from 'yup';
import { isNoteList } from './recordSchemas.js';

/** The version of the notes on the clipboard. */
const COPIED_VERSION = 1;
/** A text longer than this is not looked at (characters; a hundred thousand notes are some 12 million). */
const LONGEST_TEXT = 30_000_000;

const copiedSchema = yup.object({
  format: yup.string().oneOf(['crispfold notes']).required(),
  version: yup.number().oneOf([COPIED_VERSION]).required(),
  ppq: yup.number().integer().min(1).max(32_767).required(),
  from: yup.number().integer().min(0).required(),
  parts: yup
    .array(
      yup.object({
        partId: yup.number().integer().min(1).required(),
        name: yup.string().max(300).required(),
        notes: yup
          .mixed()
          .test('notes', 'These are no notes.', (notes) => isNoteList(withPlaceholders(notes)))
          .required(),
      }),
    )
    .min(1)
    .max(1000)
    .required(),
});

/** Copied notes have neither id nor channel: they get those where they are put in. */
const withPlaceholders = (notes: unknown): unknown =>
  Array.isArray(notes)
    ? notes.map((note) => (typeof note === 'object' && note !== null ? { ...note, id: 1, channel: 0 } : note))
    : notes;

/** The text that goes on the clipboard. */
export const copiedAsText = (copied: Copied): string =>
  JSON.stringify({ format: 'crispfold notes', version: COPIED_VERSION, ...copied });

/** Notes from a text, or null where it is not ours or is damaged. */
export const copiedFromText = (text: string): Copied | null => {
  if (text.length > LONGEST_TEXT || !text.startsWith('{')) return null;
  try {
    const value: unknown = JSON.parse(text);
    if (!copiedSchema.isValidSync(value, { strict: true })) return null;
    const { ppq, from, parts } = value as unknown as Copied;
    return { ppq, from, parts };
  } catch {
    return null;
  }
};
