/** Files on their way in: on disk, not in memory, in the work folder of their database, and gone when their request is answered. */
import { rm } from 'node:fs/promises';
import { LARGEST_REQUEST, LARGEST_UPLOAD, MOST_FILES } from '@crispfold/core';
import type { Request, RequestHandler } from 'express';
import multer from 'multer';
import { diskFull, HttpProblem } from '../problems.js';

/** A form has a little more than the files in it, in bytes. */
export const FORM_BYTES = 100_000;

/** Browsers send file names as UTF-8, which the form parser reads as Latin-1, and quotation marks as %22 (WHATWG, HTML). */
const fileName = (name: string): string => Buffer.from(name, 'latin1').toString('utf8').replaceAll('%22', '"');

/** The files that a request brought. */
export const filesOf = (request: Request): { readonly name: string; readonly path: string }[] =>
  ((request.files ?? []) as Express.Multer.File[]).map(({ originalname, path: at }) => ({
    name: fileName(originalname),
    path: at,
  }));

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

/** Handlers that take the files of a request into a folder. */
export const createUploads = (folder: string, allowed: UploadLimits = MUSIC): RequestHandler[] => {
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
      // The form parser passes over a file whose name it cannot read.
      if (filesOf(request).length === 0 && !isEmptyForm(request)) throw noName();
      next();
    },
  ];
};

/** True for a form without parts: two hyphens, its boundary, two more and a line's end (RFC 2046). */
const isEmptyForm = (request: Request): boolean => {
  const boundary = /boundary="?([^";]+)/i.exec(request.get('content-type') ?? '')?.[1] ?? '';
  return Number(request.get('content-length') ?? 0) <= boundary.length + 8;
};

const noName = (): HttpProblem =>
  new HttpProblem(
    400,
    'fileName',
    'A file has a name that could not be read; quotation marks in it may be why. Rename it and try again. Nothing was brought in.',
  );

/** A form that is not well made is the sender's fault; a disk that is full is not. */
const asUploadProblem = (error: unknown, { tooLarge }: UploadLimits): unknown => {
  if (error instanceof multer.MulterError && error.code === 'LIMIT_FILE_SIZE')
    return new HttpProblem(413, 'upload', tooLarge);
  if (error instanceof multer.MulterError) return error;
  if ((error as NodeJS.ErrnoException).code === 'ENOSPC') return diskFull();
  return new HttpProblem(400, 'upload', 'The files did not arrive as they should. Nothing was brought in.');
};
