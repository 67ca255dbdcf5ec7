/** /api/arrangements: the library and everything in it. */
import {
  type BroughtIn,
  type Created,
  type HistoryPage,
  historyPlaceSchema,
  idSchema,
  type JournalBody,
  journalBodySchema,
  LARGEST_UPLOAD,
  MOST_FILES,
  type PartsAdded,
  titleBodySchema,
} from '@crispfold/contract';
import { addParts, type Edit, type Imported, importMidi, type NamedFile } from '@crispfold/core';
import { json, type Request, Router } from 'express';
import multer from 'multer';
import type { ArrangementStore } from '../arrangementStore.js';
import { HttpProblem } from '../problems.js';

/** A change may carry every note of a large part. */
const LARGEST_CHANGE = '64mb';

const upload = multer({
  storage: multer.memoryStorage(),
  limits: { fileSize: LARGEST_UPLOAD, files: MOST_FILES, fields: 4 },
});

/** Browsers send file names as UTF-8; the form parser reads them as Latin-1. */
const fileName = (name: string): string => Buffer.from(name, 'latin1').toString('utf8');

const importFiles = (request: Request): Imported => {
  const files: NamedFile[] = ((request.files ?? []) as Express.Multer.File[]).map((file) => ({
    name: fileName(file.originalname),
    bytes: new Uint8Array(file.buffer),
  }));
  if (files.length === 0) throw new HttpProblem(400, 'noFiles', 'No file arrived. Choose one or several .mid files.');
  const result = importMidi(files);
  if (!result.ok) throw new HttpProblem(422, result.problem.code, result.problem.message);
  return result.value;
};

const idOf = (request: Request): string => {
  if (!idSchema.isValidSync(request.params.id))
    throw new HttpProblem(404, 'notFound', 'There is no arrangement at this address.');
  return request.params.id as string;
};

/** Routes over one store. */
export const arrangementRoutes = (store: ArrangementStore): Router => {
  const router = Router();

  router.get('/', async (_request, response) => {
    response.json(await store.list());
  });

  router.post('/', upload.array('files'), async (request, response) => {
    const { arrangement, warnings } = importFiles(request);
    const body: BroughtIn = { open: await store.open(await store.create(arrangement)), warnings };
    response.status(201).json(body);
  });

  router.get('/:id', async (request, response) => {
    response.json(await store.open(idOf(request)));
  });

  router.get('/:id/history', async (request, response) => {
    const before = await historyPlaceSchema.validate(request.query.before);
    const body: HistoryPage = { entries: await store.historyBefore(idOf(request), before) };
    response.json(body);
  });

  router.patch('/:id', json(), async (request, response) => {
    const title = (await titleBodySchema.validate(request.body, { strict: true })).title.trim();
    const saved = await store.update(idOf(request), null, (arrangement) => [
      {
        kind: 'edit',
        edit: {
          label: `Rename to “${title}”`,
          changes: [{ kind: 'arrangementFields', before: { title: arrangement.title }, after: { title } }],
        },
      },
    ]);
    response.json(saved);
  });

  router.post('/:id/journal', json({ limit: LARGEST_CHANGE }), async (request, response) => {
    const body = (await journalBodySchema.validate(request.body, { strict: true })) as unknown as JournalBody;
    response.json(await store.append(idOf(request), body.baseRevision, body.entries));
  });

  router.post('/:id/parts', upload.array('files'), async (request, response) => {
    const { arrangement: brought, warnings } = importFiles(request);
    let edit: Edit | undefined;
    let notes: typeof warnings = warnings;
    const saved = await store.update(idOf(request), null, (arrangement) => {
      const added = addParts(arrangement, brought);
      edit = added.edit;
      notes = [...warnings, ...added.warnings];
      return [{ kind: 'edit', edit }];
    });
    const body: PartsAdded = { ...saved, edit: edit as Edit, warnings: notes };
    response.status(201).json(body);
  });

  router.post('/:id/duplicate', async (request, response) => {
    const body: Created = { id: await store.duplicate(idOf(request)) };
    response.status(201).json(body);
  });

  router.delete('/:id', async (request, response) => {
    await store.remove(idOf(request));
    response.status(204).end();
  });

  router.post('/:id/restore', async (request, response) => {
    await store.restore(idOf(request));
    response.status(204).end();
  });

  return router;
};
