/** Files on their way in: on disk, not in memory, in a folder of their own, and gone when their request is answered. */
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { LARGEST_REQUEST, LARGEST_UPLOAD, MOST_FILES } from '@crispfold/core';
import type { Request, RequestHandler } from 'express';
import multer from 'multer';
import { isAlive } from './isAlive.js';
import { diskFull, HttpProblem } from './problems.js';

/** Folders of this process, which go with it. */
const folders: string[] = [];

/** A form has a little more than the files in it, in bytes. */
export const FORM_BYTES = 100_000;

const PREFIX = 'crispfold-uploads-';

/** Browsers send file names as UTF-8; the form parser reads them as Latin-1. */
const fileName = (name: string): string => Buffer.from(name, 'latin1').toString('utf8');

/** The files that a request brought. */
export const filesOf = (request: Request): { readonly name: string; readonly path: string }[] =>
  ((request.files ?? []) as Express.Multer.File[]).map(({ originalname, path: at }) => ({
    name: fileName(originalname),
    path: at,
  }));

/** Folders of servers that were killed are cleared away; whose one is, its name tells. Clocks may be wrong, and tell nothing. */
const clearStale = (): void => {
  for (const name of readdirSync(tmpdir())) {
    const pid = Number(new RegExp(`^${PREFIX}(\\d+)-`).exec(name)?.[1] ?? 0);
    if (pid > 0 && !isAlive(pid)) rmSync(path.join(tmpdir(), name), { recursive: true, force: true });
  }
};

/** What files a request may bring, and what is said of others. */
export interface UploadLimits {
  readonly files: number;
  /** The largest file, and all of them together, in bytes. */
  readonly largest: number;
  readonly together: number;
  readonly noForm: string;
  /** Said where one file is too large. */
  readonly tooLarge: string;
}

const MUSIC: UploadLimits = {
  files: MOST_FILES,
  largest: LARGEST_UPLOAD,
  together: LARGEST_REQUEST,
  noForm: 'Files come as a form. Choose one or several .mid files or MusicXML scores.',
  tooLarge: 'A file is larger than 20 MB, more than a MIDI file ever needs. Nothing was brought in.',
};

/** Handlers that take the files of a request. */
export const createUploads = (allowed: UploadLimits = MUSIC): RequestHandler[] => {
  clearStale();
  const folder = mkdtempSync(path.join(tmpdir(), `${PREFIX}${process.pid}-`));
  if (folders.length === 0) {
    process.once('exit', () => {
      for (const own of folders) rmSync(own, { recursive: true, force: true });
    });
  }
  folders.push(folder);
  const parse = multer({
    storage: multer.diskStorage({ destination: folder }),
    limits: { fileSize: allowed.largest, files: allowed.files, fields: 4, parts: allowed.files + 4, headerPairs: 100 },
  }).array('files');
  return [
    (request, _response, next) => {
      if (!request.is('multipart/form-data')) {
        throw new HttpProblem(415, 'noForm', allowed.noForm);
      }
      if (Number(request.headers['content-length'] ?? 0) > allowed.together) {
        throw new HttpProblem(
          413,
          'upload',
          `Those files are larger than ${allowed.together / 1024 / 1024} MB together. Nothing was brought in.`,
        );
      }
      next();
    },
    (request, response, next) => {
      parse(request, response, (error: unknown) => next(error ? asUploadProblem(error, allowed) : undefined));
    },
    (request, response, next) => {
      response.once('close', () => {
        for (const { path: at } of filesOf(request)) void rm(at, { force: true });
      });
      next();
    },
  ];
};

/** A form that is not well made is the sender's fault; a disk that is full is not. */
const asUploadProblem = (error: unknown, { tooLarge }: UploadLimits): unknown => {
  if (error instanceof multer.MulterError && error.code === 'LIMIT_FILE_SIZE')
    return new HttpProblem(413, 'upload', tooLarge);
  if (error instanceof multer.MulterError) return error;
  if ((error as NodeJS.ErrnoException).code === 'ENOSPC') return diskFull();
  return new HttpProblem(400, 'upload', 'The files did not arrive as they should. Nothing was brought in.');
};
