/** /api/notices: what the server did by itself. */
import { noticeIdSchema } from '@crispfold/contract';
import { Router } from 'express';
import type { Notices } from '../notices.js';

/** Routes over the notices of one database. */
export const noticeRoutes = (notices: Notices): Router => {
  const router = Router();
  router.get('/', async (_request, response) => {
    response.json(await notices.list());
  });
  router.delete('/:id', async (request, response) => {
    await notices.remove(await noticeIdSchema.validate(request.params.id));
    response.status(204).end();
  });
  return router;
};
