/** /api/soundfont: the SoundFont that parts may sound by. */
import type { SoundFontItem } from '@crispfold/contract';
import { idSchema } from '@crispfold/contract';
import { LARGEST_SOUNDFONT } from '@crispfold/core';
import { type Request, type Response, Router } from 'express';
import type { SoundFontStore } from '../keeping/soundFontStore.js';
import { createUploads, FORM_BYTES, filesOf } from '../keeping/uploads.js';
import { HttpProblem } from '../problems.js';

/** Routes over the one SoundFont. */
export const soundFontRoutes = (store: SoundFontStore, folder: string): Router => {
  const router = Router();
  const uploads = createUploads(folder, {
    files: 1,
    largest: LARGEST_SOUNDFONT,
    together: LARGEST_SOUNDFONT + FORM_BYTES,
    noForm: 'A SoundFont comes as a form. Choose an .sf2 or .sf3 file.',
    tooLarge: `A SoundFont is ${LARGEST_SOUNDFONT / 1024 / 1024} MB at most. Nothing was changed.`,
  });

  router.get('/', async (_request, response) => {
    const body: SoundFontItem | null = await store.item();
    response.json(body);
  });

  router.post('/', [...uploads], async (request: Request, response: Response) => {
    const [file] = filesOf(request);
    if (!file) throw new HttpProblem(400, 'noFiles', 'No file arrived. Choose an .sf2 or .sf3 file.');
    const body: SoundFontItem = await store.keep(file.name, file.path);
    response.status(201).json(body);
  });

  router.get('/:id', async (request, response) => {
    const { id } = request.params;
    if (!idSchema.isValidSync(id)) throw new HttpProblem(404, 'noSoundFont', 'There is no SoundFont at this address.');
    response
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .type('application/octet-stream')
      .sendFile(await store.find(id));
  });

  router.delete('/', async (_request, response) => {
    await store.remove();
    response.status(204).end();
  });

  return router;
};
