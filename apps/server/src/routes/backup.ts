/** /api/backup: the whole library as one file, while it is in use. */
import { Router } from 'express';
import type { Backups } from '../backup/backups.js';

/** Routes over the backups of one database. */
export const backupRoutes = (backups: Backups): Router => {
  const router = Router();
  router.get('/', async (_request, response) => {
    const { file, done } = await backups.take();
    const name = `crispfold-${new Date().toISOString().slice(0, 10)}.sqlite`;
    response.download(file, name, () => void done());
  });
  return router;
};
