/** Reading files from disk into one arrangement, ready to be kept and sent: what a worker thread does for one request. */
import { readFile } from 'node:fs/promises';
import { type Arrangement, importMidi, type OnWork, type Problem } from '@crispfold/core';
import { type Archive, readArchive } from '../archive.js';
import { notToBeKept } from '../gate.js';
import { packed } from '../packing.js';
import { HttpProblem } from '../problems.js';
import { summaryOf } from '../summary.js';

/** What is asked: files as they came, and what they are to become. */
export interface ReadAsked {
  readonly files: readonly { readonly name: string; readonly path: string }[];
  /** "new": an arrangement of their own. "parts": parts of one that there is. */
  /** An arrangement of their own, parts of one that there is, or one again that was taken away. */
  readonly become: 'new' | 'parts' | 'again';
}

/** An arrangement in the forms in which it goes on: nothing of it has to be read again to be kept and sent. */
export interface ReadNew {
  readonly become: 'new';
  /** As it is kept. */
  readonly packed: Uint8Array;
  /** As the library shows it, in JSON. */
  readonly summary: string;
  /** As it is sent, in JSON. */
  readonly json: Uint8Array;
  readonly warnings: readonly Problem[];
}

/** An arrangement whose parts join another. */
export interface ReadParts {
  readonly become: 'parts';
  readonly arrangement: Arrangement;
  readonly warnings: readonly Problem[];
}

/** An arrangement that was taken away with its history. */
export interface ReadAgain {
  readonly become: 'again';
  readonly archive: Archive;
}

/** What comes of it. */
export type ReadAnswer =
  | { readonly ok: true; readonly read: ReadNew | ReadParts | ReadAgain }
  | { readonly ok: false; readonly problem: Problem };

const readAgain = (bytes: Uint8Array, onWork?: OnWork): ReadAnswer => {
  try {
    return { ok: true, read: { become: 'again', archive: readArchive(bytes, onWork) } };
  } catch (error) {
    if (!(error instanceof HttpProblem)) throw error;
    return { ok: false, problem: { code: error.code, message: error.message } };
  }
};

/**
 * Reads the files; a problem is told in words, and never thrown. `onWork` is told how many bytes were worked through, and may
 * throw to stop.
 */
export const readFiles = async ({ files, become }: ReadAsked, onWork?: OnWork): Promise<ReadAnswer> => {
  const named = [];
  for (const { name, path } of files) named.push({ name, bytes: new Uint8Array(await readFile(path)) });
  if (become === 'again') return readAgain(named[0]?.bytes ?? new Uint8Array(), onWork);
  const result = importMidi(named, onWork);
  if (!result.ok) return result;
  const { arrangement, warnings } = result.value;
  const problem = notToBeKept(arrangement);
  if (problem) return { ok: false, problem };
  if (become === 'parts') return { ok: true, read: { become, arrangement, warnings } };
  const json = new TextEncoder().encode(JSON.stringify(arrangement));
  return {
    ok: true,
    read: {
      become,
      packed: new Uint8Array(await packed(arrangement)),
      summary: JSON.stringify(summaryOf(arrangement)),
      json,
      warnings,
    },
  };
};
