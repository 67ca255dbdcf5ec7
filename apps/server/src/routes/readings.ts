/** /api/readings: how far the files of a request have been read. */
import { type ReadingItem, requestIdSchema } from '@crispfold/contract';
import { Router } from 'express';
import type { Readings } from '../importing/readings.js';
import { HttpProblem } from '../problems.js';

/** Routes over the readings that are under way. */
export const readingRoutes = (readings: Readings): Router => {
  const router = Router();
  router.get('/:request', async (request, response) => {
    const { request: name } = request.params;
    const done = requestIdSchema.isValidSync(name) ? readings.of(name) : undefined;
    if (!done) throw new HttpProblem(404, 'noReading', 'No files are being read under this name.');
    const body: ReadingItem = { bytesDone: done.bytesDone };
    response.json(body);
  });
  return router;
};
