/** /api/backup: the whole library as one file, while it is in use. */
import { existsSync } from 'node:fs';
import { backupQuerySchema } from '@crispfold/contract';
import { ZipArchive } from 'archiver';
import { Router } from 'express';
import type { Backups } from '../backup/backups.js';

/** Routes over the backups of one database. */
export const backupRoutes = (backups: Backups): Router => {
  const router = Router();
  router.get('/', async (request, response) => {
    const { recordings } = await backupQuerySchema.validate(request.query);
    const { file, done } = await backups.take();
    const name = `crispfold-${new Date().toISOString().slice(0, 10)}`;
    if (!recordings) {
      response.download(file, `${name}.sqlite`, () => void done());
      return;
    }
    response.attachment(`${name}.zip`).type('application/zip');
    // Recordings are packed as tightly as they will ever be, most of them.
    const zip = new ZipArchive({ store: true });
    response.once('close', () => void done());
    zip.once('error', (error: Error) => response.destroy(error));
    zip.pipe(response);
    zip.file(file, { name: 'crispfold.sqlite' });
    if (backups.recordings && existsSync(backups.recordings)) zip.directory(backups.recordings, 'recordings');
    await zip.finalize();
  });
  return router;
};
