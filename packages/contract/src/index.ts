/** What server and web say to each other. */
import type { Arrangement, Edit, History, Problem } from '@crispfold/core';
import * as yup from 'yup';

export { copiedAsText, copiedFromText } from './copiedSchema.js';
export {
  parametersSchema,
  planFromFile,
  planNameSchema,
  planSchema as planBodySchema,
  planToFile,
} from './planSchema.js';
export { type JournalBody, journalBodySchema } from './recordSchemas.js';
export {
  sentenceNameSchema,
  sentenceSchema,
  sentencesFromFile,
  sentencesToFile,
} from './sentenceSchema.js';

/** The largest file that may be brought in, in bytes. */
export const LARGEST_UPLOAD = 20 * 1024 * 1024;
/** The most files in one go. */
export const MOST_FILES = 64;

/** An arrangement's id in an address. */
export const idSchema = yup
  .string()
  .matches(/^[a-z0-9]{12}$/, 'There is no arrangement at this address.')
  .required();

/** A place in a history, as a query says it: entries before it are asked for. */
export const historyPlaceSchema = yup.number().integer().min(0).required();

/** Older entries of a history. */
export interface HistoryPage {
  /** Oldest first; they end just before the place asked for. */
  readonly entries: readonly Edit[];
}

/** The body that renames. */
export const titleBodySchema = yup.object({
  title: yup.string().matches(/\S/, 'A title needs at least one letter.').max(200).required(),
});

/** One line of the library. */
export interface LibraryItem {
  readonly id: string;
  readonly title: string;
  readonly parts: readonly { readonly name: string; readonly instrument: string; readonly notes: number }[];
  readonly bars: number;
  readonly seconds: number;
  /** ISO 8601. */
  readonly changedAt: string;
}

/** An arrangement as it opens. */
export interface OpenArrangement {
  readonly id: string;
  readonly revision: number;
  readonly changedAt: string;
  readonly arrangement: Arrangement;
  readonly history: History;
}

/** The answer to something written. */
export interface Saved {
  readonly revision: number;
  readonly changedAt: string;
}

/** The answer to a copy. */
export interface Created {
  readonly id: string;
}

/** The answer to files that became an arrangement: it is opened at once. */
export interface BroughtIn {
  readonly open: OpenArrangement;
  readonly warnings: readonly Problem[];
}

/** The answer to files that became parts. */
export interface PartsAdded extends Saved {
  readonly edit: Edit;
  readonly warnings: readonly Problem[];
}

/** How every problem is told. */
export interface ErrorBody {
  readonly error: { readonly code: string; readonly message: string; readonly field?: string };
}
