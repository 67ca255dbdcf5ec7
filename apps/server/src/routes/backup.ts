/** /api/backup: the whole library as one file, while it is in use. */
import { backupQuerySchema } from '@crispfold/contract';
import { ZipArchive } from 'archiver';
import { Router } from 'express';
import type { Backups } from '../backup/backups.js';
import { notFromElsewhere } from '../guard.js';

/** A download that takes nothing for so long is given up, in milliseconds: the next backup waits for it. */
const STALLED = 60_000;

/** Routes over the backups of one database. */
export const backupRoutes = (backups: Backups): Router => {
  const router = Router();
  router.get('/', notFromElsewhere, async (request, response) => {
    const { recordings } = await backupQuerySchema.validate(request.query);
    let left = false;
    response.once('close', () => {
      left = true;
    });
    const { file, recordings: kept, done } = await backups.take();
    if (left) {
      await done();
      return;
    }
    response.once('close', () => void done());
    response.setTimeout(STALLED, () => response.destroy());
    const name = `crispfold-${new Date().toISOString().slice(0, 10)}`;
    if (!recordings) {
      response.download(file, `${name}.sqlite`);
      return;
    }
    response.attachment(`${name}.zip`).type('application/zip');
    // Recordings are packed as tightly as they will ever be, most of them.
    const zip = new ZipArchive({ store: true });
    zip.once('error', (error: Error) => response.destroy(error));
    zip.pipe(response);
    zip.file(file, { name: 'crispfold.sqlite' });
    for (const own of kept) zip.file(own.file, { name: `recordings/${own.name}` });
    await zip.finalize();
  });
  return router;
};
