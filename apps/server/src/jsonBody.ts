/** Bodies that are JSON and say so. */
import { json, type RequestHandler } from 'express';
import { HttpProblem } from './problems.js';

/** Reads a JSON body of at most `limit` (bytes, or "1mb"); what says it is something else is refused, so that no page of another site can send it. */
export const jsonBody = (limit: string | number): RequestHandler[] => [
  (request, _response, next) => {
    if (!request.is('application/json')) {
      throw new HttpProblem(415, 'notJson', 'This request has to be JSON. Nothing was changed.');
    }
    next();
  },
  json({ limit }),
];
