/** /api/arrangements/:id/recordings: recordings beside the notes. */
import { type Created, recordingIdSchema } from '@crispfold/contract';
import { LARGEST_RECORDING } from '@crispfold/core';
import { type Request, type Response, Router } from 'express';
import type { RecordingStore } from '../keeping/recordingStore.js';
import { createUploads, FORM_BYTES, filesOf } from '../keeping/uploads.js';
import { HttpProblem } from '../problems.js';
import { idOf } from './arrangements.js';

/** Routes over the recordings of all arrangements. */
export const recordingRoutes = (recordings: RecordingStore, folder: string): Router => {
  const router = Router();
  const uploads = createUploads(folder, {
    files: 1,
    largest: LARGEST_RECORDING,
    together: LARGEST_RECORDING + FORM_BYTES,
    noForm: 'A recording comes as a form. Choose a wav, flac, mp3 or ogg file.',
    tooLarge: `A recording is ${LARGEST_RECORDING / 1024 / 1024} MB at most. Nothing was added.`,
  });

  router.post('/:id/recordings', [...uploads], async (request: Request, response: Response) => {
    const [file] = filesOf(request);
    if (!file) throw new HttpProblem(400, 'noFiles', 'No file arrived. Choose a wav, flac, mp3 or ogg file.');
    const body: Created = await recordings.keep(idOf(request), file.path);
    response.status(201).json(body);
  });

  router.get('/:id/recordings/:recording', async (request, response) => {
    const { recording } = request.params;
    if (!recordingIdSchema.isValidSync(recording))
      throw new HttpProblem(404, 'noRecording', 'There is no recording at this address.');
    const { file, mediaType } = await recordings.find(idOf(request), recording);
    // The file of an id never changes.
    response.set('Cache-Control', 'private, max-age=31536000, immutable').type(mediaType).sendFile(file);
  });

  return router;
};
