/** Problems as answers: one shape, the right status, a sentence for musicians. */
import type { ErrorBody } from '@crispfold/contract';
import type { ErrorRequestHandler } from 'express';
import multer from 'multer';
import type { Logger } from 'pino';
import { ValidationError } from 'yup';

/** A problem with its HTTP status. */
export class HttpProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly field?: string,
  ) {
    super(message);
  }
}

/** No such arrangement. */
export const notFound = (): HttpProblem =>
  new HttpProblem(
    404,
    'notFound',
    'This arrangement is not in the library. It may have been deleted in another window.',
  );

/** An arrangement that was deleted, and can be taken back. */
export const inTheBin = (): HttpProblem =>
  new HttpProblem(
    410,
    'inTheBin',
    'This arrangement lies in the bin. Bring it back there, in the library, to go on with it.',
  );

/** A place before the oldest change that is kept singly. */
export const beforeFold = (): HttpProblem =>
  new HttpProblem(
    422,
    'folded',
    'The changes before this place were folded away. What is kept of them is listed at the head of the history.',
  );

/** The disk has no room. */
export const diskFull = (): HttpProblem =>
  new HttpProblem(507, 'diskFull', 'The disk is full: nothing more can be saved until there is room on it.');

const UPLOAD_MESSAGES: { readonly [code: string]: string } = {
  LIMIT_FILE_COUNT: 'Those are too many files at once. Nothing was brought in.',
};

/** Another program holds the database: a copy of it being made, for one. */
const busy = (): HttpProblem =>
  new HttpProblem(
    503,
    'busy',
    'Another program is using the database just now. Nothing was changed; try again in a moment.',
  );

const BUSY = /^SQLITE_(BUSY|LOCKED)/;

/** What is said where a file cannot grow: by SQLite, and by the system. */
const NO_ROOM = /^(SQLITE_FULL|SQLITE_IOERR(_WRITE|_FSYNC|_TRUNCATE)?|ENOSPC|EFBIG|EDQUOT)$/;

/** The codes of an error and of what caused it: the database's stand within those that name the query. */
const codesOf = (error: unknown): string[] => {
  const codes: string[] = [];
  for (let at: unknown = error, depth = 0; at && depth < 5; at = (at as { cause?: unknown }).cause, depth += 1) {
    const { code, extendedCode } = at as { code?: unknown; extendedCode?: unknown };
    codes.push(...[code, extendedCode].filter((one) => typeof one === 'string'));
  }
  return codes;
};

const asProblem = (error: unknown): HttpProblem | undefined => {
  if (error instanceof HttpProblem) return error;
  if (error instanceof ValidationError)
    return new HttpProblem(400, 'invalid', error.errors[0] ?? error.message, error.path);
  if (error instanceof multer.MulterError) {
    const message = UPLOAD_MESSAGES[error.code] ?? 'The files did not arrive as they should. Nothing was brought in.';
    return new HttpProblem(400, 'upload', message);
  }
  if (codesOf(error).some((code) => NO_ROOM.test(code))) return diskFull();
  if (codesOf(error).some((code) => BUSY.test(code))) return busy();
  const { type, status } = error as { type?: string; status?: number };
  if (type === 'entity.too.large')
    return new HttpProblem(413, 'tooLarge', 'This change is too large to save in one piece.');
  if (type === 'entity.parse.failed')
    return new HttpProblem(400, 'malformed', 'The request could not be read. Reload the page and try again.');
  if (status !== undefined && status >= 400 && status < 500) {
    return new HttpProblem(status, 'badRequest', 'The request could not be read. Nothing was changed.');
  }
  return undefined;
};

/** Express's last stop for errors. */
export const problemHandler =
  (log: Logger): ErrorRequestHandler =>
  (error, _request, response, _next) => {
    const problem = asProblem(error);
    if (!problem) log.error({ err: error }, 'unexpected error');
    const { status, code, message, field } =
      problem ?? new HttpProblem(500, 'unexpected', 'Something went wrong on our side. What was saved before is safe.');
    const body: ErrorBody = { error: { code, message, ...(field ? { field } : {}) } };
    response.status(status).json(body);
  };
