/** What server and web say to each other. */
import {
  type Arrangement,
  type History,
  type HistoryEntry,
  isWholeText,
  type KeptEdit,
  LONGEST_PART_NAME,
  LONGEST_TAG,
  MOST_TAGS,
  type Problem,
} from '@crispfold/core';
import * as yup from 'yup';

export { copiedAsText, copiedFromText } from './copiedSchema.js';
export { ownFileText, readOwnFile } from './ownFile.js';
export { percussionMapFromFile, percussionMapToFile } from './percussionSchema.js';
export {
  feelNameSchema,
  keptFeelSchema,
  parametersSchema,
  planFromFile,
  planNameSchema,
  planSchema as planBodySchema,
  planToFile,
} from './planSchema.js';
export {
  arrangementSchema,
  editSchema,
  type JournalBody,
  journalBodySchema,
  recordingIdSchema,
} from './recordSchemas.js';
export {
  sentenceNameSchema,
  sentenceSchema,
  sentencesFromFile,
  sentencesToFile,
} from './sentenceSchema.js';
export { wholeArrangement } from './wholeArrangement.js';

/** An arrangement's id in an address. */
export const idSchema = yup
  .string()
  .matches(/^[a-z0-9]{12}$/, 'There is no arrangement at this address.')
  .required();

/** The SoundFont that the server keeps. */
export interface SoundFontItem {
  readonly id: string;
  readonly name: string;
  readonly bytes: number;
}

/** Who is signed in: a name that is no secret; null where nobody has to be. */
export interface SessionItem {
  readonly name: string | null;
}

/** The body that signs out: here, or everywhere. */
export const signOutBodySchema = yup.object({ everywhere: yup.boolean().required() }).noUnknown();

/** What the server did by itself, and tells until it was read. */
export interface NoticeItem {
  readonly id: number;
  readonly text: string;
  /** ISO 8601. */
  readonly at: string;
}

/** The number of a notice in an address. */
export const noticeIdSchema = yup.number().integer().min(1).required();

/** How far the reading of a request's files is, in bytes worked through; null while nothing is read under that name. */
export interface ReadingItem {
  readonly bytesDone: number | null;
}

/** What a query asks of a backup: with the recordings, or without. */
export const backupQuerySchema = yup.object({ recordings: yup.boolean().default(false) });

/** A place in a history, as a query says it: entries before it are asked for. */
export const historyPlaceSchema = yup.number().integer().min(0).required();

/** Older entries of a history. */
export interface HistoryPage {
  /** By name alone, oldest first; they end just before the place asked for. */
  readonly entries: readonly HistoryEntry[];
}

/** What a query asks of a history: Edits at places [from, to), the last of them first where not all are sent. */
export const editsQuerySchema = yup.object({
  from: yup.number().integer().min(0).required(),
  to: yup.number().integer().min(0).required(),
  last: yup.boolean().default(false),
});

/** Edits of a history, in its order, from a place on; fewer than were asked for where they are large. */
export interface EditsPage {
  readonly from: number;
  readonly edits: readonly KeptEdit[];
}

/** What is kept of changes that were folded away. */
export interface KeptPointItem {
  readonly revision: number;
  /** So many changes led to it. */
  readonly position: number;
  /** ISO 8601. */
  readonly writtenAt: string;
}

/** The header that names a request: one that comes again is answered as the first time. */
export const REQUEST_HEADER = 'crispfold-request';
/** What such a name is. */
export const requestIdSchema = yup.string().matches(/^[A-Za-z0-9-]{8,64}$/, 'This is no name of a request.');

/** The body that renames. */
export const titleBodySchema = yup.object({
  title: yup
    .string()
    .matches(/\S/, 'A title needs at least one letter.')
    .max(LONGEST_PART_NAME, `A title has ${LONGEST_PART_NAME} characters at most.`)
    .test('whole', 'A title is made of whole characters.', (value) => isWholeText(value ?? ''))
    .required(),
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
  /** Words of the person's own. */
  readonly tags: readonly string[];
  /** How it stood when the Desk last looked it through; null where it never did. */
  readonly glance: (Glance & { readonly changedSince: boolean }) | null;
}

/** What the Desk found when it last looked an arrangement through. */
export interface Glance {
  /** Findings that are open, and those of them that are surely wrong. */
  readonly findings: number;
  readonly wrong: number;
  /** Weighted signs a bar and part, as played on a grid of thirty-seconds and as written; null where nothing is to be read. */
  readonly reads: { readonly before: number; readonly after: number } | null;
}

const count = yup.number().integer().min(0).max(10_000_000).required();
const signs = yup.number().min(0).max(1_000_000).required();

/** A glance, as the Desk sends it. */
export const glanceBodySchema = yup
  .object({
    findings: count,
    wrong: count,
    reads: yup.object({ before: signs, after: signs }).noUnknown().nullable().defined().default(undefined),
  })
  .noUnknown();

/** A line of the bin. */
export interface BinItem extends LibraryItem {
  /** When it was deleted, and when it goes for good; ISO 8601. */
  readonly deletedAt: string;
  readonly goesAt: string;
}

/** The tags of an arrangement, in its order; said once, however they are written. */
export const tagsBodySchema = yup
  .object({
    tags: yup
      .array(yup.string().trim().min(1).max(LONGEST_TAG, `A tag has ${LONGEST_TAG} characters at most.`).required())
      .max(MOST_TAGS, `An arrangement has ${MOST_TAGS} tags at most.`)
      .required(),
  })
  .noUnknown();

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

/** The answer to going back to a kept point. */
export interface WentBack extends Saved {
  readonly edit: KeptEdit;
}

/** The answer to files that became parts. */
export interface PartsAdded extends Saved {
  readonly edit: KeptEdit;
  readonly warnings: readonly Problem[];
}

/** How every problem is told. */
export interface ErrorBody {
  readonly error: { readonly code: string; readonly message: string; readonly field?: string };
}

export * from './pagesSchema.js';
