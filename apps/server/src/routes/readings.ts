/** /api/readings: how far the files of a request have been read. */
import { type ReadingItem, requestIdSchema } from '@crispfold/contract';
import { Router } from 'express';
import type { Readings } from '../importing/readings.js';

/** Routes over the readings that are under way. */
export const readingRoutes = (readings: Readings): Router => {
  const router = Router();
  router.get('/:request', async (request, response) => {
    const { request: name } = request.params;
    const done = requestIdSchema.isValidSync(name) ? readings.of(name) : undefined;
    // Asked before the files have come, and once they have been read: nothing is being read then.
    const body: ReadingItem = { bytesDone: done?.bytesDone ?? null };
    response.json(body);
  });
  return router;
};
