/** /api/arrangements: the library and everything in it. */
import {
  type BinItem,
  type BroughtIn,
  type Created,
  type EditsPage,
  editsQuerySchema,
  glanceBodySchema,
  type HistoryPage,
  historyPlaceSchema,
  idSchema,
  type JournalBody,
  journalBodySchema,
  type KeptPointItem,
  type OpenArrangement,
  type PagesBody,
  type PartsAdded,
  pagesBodySchema,
  REQUEST_HEADER,
  requestIdSchema,
  type Saved,
  tagsBodySchema,
  titleBodySchema,
  type WentBack,
} from '@crispfold/contract';
import { addParts, EMPTY_HISTORY, type KeptEdit, LARGEST_CHANGE } from '@crispfold/core';
import { type Request, type RequestHandler, type Response, Router } from 'express';
import { archiveBytes } from '../archive.js';
import type { ArrangementStore } from '../arrangementStore.js';
import type { Importer } from '../importing/importer.js';
import type { ReadAnswer, ReadAsked } from '../importing/readFiles.js';
import type { Readings } from '../importing/readings.js';
import { jsonBody } from '../jsonBody.js';
import type { RecordingStore } from '../keeping/recordingStore.js';
import { filesOf } from '../keeping/uploads.js';
import type { Presser } from '../pressing/presser.js';
import { HttpProblem } from '../problems.js';

/** What the routes stand on. */
export interface ArrangementRooms {
  readonly store: ArrangementStore;
  readonly uploads: readonly RequestHandler[];
  readonly importer: Importer;
  readonly readings: Readings;
  readonly presser: Presser;
  readonly recordings: RecordingStore;
}

/** Reads the files of a request in a thread of their own; gives up when the browser does. */
const readUploads = async <Become extends ReadAsked['become']>(
  request: Request,
  response: Response,
  { importer, readings }: ArrangementRooms,
  become: Become,
): Promise<Extract<Extract<ReadAnswer, { ok: true }>['read'], { become: Become }>> => {
  const files = filesOf(request);
  if (files.length === 0) {
    const which =
      become === 'again' ? 'one that was taken away from here' : 'one or several .mid files or MusicXML scores';
    throw new HttpProblem(400, 'noFiles', `No file arrived. Choose ${which}.`);
  }
  const left = new AbortController();
  response.once('close', () => left.abort());
  const answer = await readings.during(requestIdOf(request), (tell) => importer({ files, become }, left.signal, tell));
  if (!answer.ok) throw new HttpProblem(422, answer.problem.code, answer.problem.message);
  return answer.read as Extract<Extract<ReadAnswer, { ok: true }>['read'], { become: Become }>;
};

/** The name of a request, where it has one. */
const requestIdOf = (request: Request): string | undefined => {
  const id = request.get(REQUEST_HEADER);
  if (id !== undefined && !requestIdSchema.isValidSync(id)) {
    throw new HttpProblem(400, 'invalid', 'The name of this request is none. Nothing was changed.');
  }
  return id;
};

/** The arrangement that an address names. */
export const idOf = (request: Request): string => {
  if (!idSchema.isValidSync(request.params.id))
    throw new HttpProblem(404, 'notFound', 'There is no arrangement at this address.');
  return request.params.id as string;
};

/** Routes over one store. */
export const arrangementRoutes = (rooms: ArrangementRooms): Router => {
  const { store, uploads, presser, recordings } = rooms;
  const router = Router();

  router.get('/', async (_request, response) => {
    response.json(await store.list());
  });

  router.post('/', [...uploads], async (request: Request, response: Response) => {
    const requestId = requestIdOf(request);
    const { packed, summary, json: text, warnings } = await readUploads(request, response, rooms, 'new');
    const { id, changedAt, known } = await store.createPacked(packed, summary, requestId);
    if (known) {
      // It came before, and may have been worked on since.
      const body: BroughtIn = { open: await store.open(id), warnings };
      response.status(201).json(body);
      return;
    }
    const open: Omit<OpenArrangement, 'arrangement'> = { id, revision: 0, changedAt, history: EMPTY_HISTORY };
    const body: Omit<BroughtIn, 'open'> & { open: typeof open } = { warnings, open };
    // The arrangement is JSON already: it is put into its place, at the end of `open`.
    const around = JSON.stringify(body).replace(/}}$/, ',"arrangement":');
    response.status(201).type('json');
    response.write(around);
    response.write(text);
    response.end('}}');
  });

  router.get('/bin', async (_request, response) => {
    const body: readonly BinItem[] = await store.bin();
    response.json(body);
  });

  router.delete('/bin/:id', async (request, response) => {
    await store.removeForGood(idOf(request));
    await recordings.files.leaveList();
    response.status(204).end();
  });

  router.put('/:id/tags', jsonBody('100kb'), async (request: Request, response: Response) => {
    const { tags } = await tagsBodySchema.validate(request.body, { strict: true });
    await store.tag(idOf(request), tags);
    response.status(204).end();
  });

  router.put('/:id/glance', jsonBody('100kb'), async (request: Request, response: Response) => {
    await store.glance(idOf(request), await glanceBodySchema.validate(request.body, { strict: true }));
    response.status(204).end();
  });

  router.get('/:id', async (request, response) => {
    response.json(await store.open(idOf(request)));
  });

  router.get('/:id/history', async (request, response) => {
    const before = await historyPlaceSchema.validate(request.query.before);
    const body: HistoryPage = { entries: await store.historyBefore(idOf(request), before) };
    response.json(body);
  });

  router.get('/:id/edits', async (request, response) => {
    const { from, to, last } = await editsQuerySchema.validate(request.query);
    const body: EditsPage = await store.edits(idOf(request), from, to, last);
    response.json(body);
  });

  router.get('/:id/points', async (request, response) => {
    const body: readonly KeptPointItem[] = await store.points(idOf(request));
    response.json(body);
  });

  router.post('/:id/points/:revision', async (request, response) => {
    const revision = await historyPlaceSchema.validate(request.params.revision);
    const { edit, revision: now, changedAt } = await store.backToPoint(idOf(request), revision, requestIdOf(request));
    const body: WentBack = { revision: now, changedAt, edit };
    response.json(body);
  });

  router.patch('/:id', jsonBody('100kb'), async (request: Request, response: Response) => {
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

  router.post('/:id/journal', jsonBody(LARGEST_CHANGE), async (request: Request, response: Response) => {
    const body = (await journalBodySchema.validate(request.body, { strict: true })) as unknown as JournalBody;
    const { revision, changedAt } = await store.append(
      idOf(request),
      body.baseRevision,
      body.entries,
      requestIdOf(request),
    );
    const saved: Saved = { revision, changedAt };
    response.json(saved);
  });

  router.get('/:id/writes/:request', async (request, response) => {
    const { request: name } = request.params;
    const body: Saved | null = requestIdSchema.isValidSync(name) ? await store.written(idOf(request), name) : null;
    response.json(body);
  });

  router.post('/:id/parts', [...uploads], async (request: Request, response: Response) => {
    const { arrangement: brought, warnings } = await readUploads(request, response, rooms, 'parts');
    let edit: KeptEdit | undefined;
    let notes: typeof warnings = warnings;
    const saved = await store.update(
      idOf(request),
      null,
      (arrangement) => {
        const added = addParts(arrangement, brought);
        edit = added.edit;
        notes = [...warnings, ...added.warnings];
        return [{ kind: 'edit', edit }];
      },
      requestIdOf(request),
    );
    // A request that came before made its Edit then.
    const made = saved.known ? await store.editAt(idOf(request), saved.revision) : edit;
    const { revision, changedAt } = saved;
    const body: PartsAdded = { revision, changedAt, edit: made as KeptEdit, warnings: notes };
    response.status(201).json(body);
  });

  router.get('/:id/archive', async (request, response) => {
    const archive = await store.takeAway(idOf(request));
    response
      .attachment(`${archive.arrangement.title}.crispfold.zip`)
      .type('application/zip')
      .send(Buffer.from(archiveBytes(archive)));
  });

  router.post('/:id/pages', jsonBody('100kb'), async (request: Request, response: Response) => {
    const body = (await pagesBodySchema.validate(request.body, { strict: true })) as PagesBody;
    const { arrangement } = await store.open(idOf(request));
    const left = new AbortController();
    response.once('close', () => left.abort());
    const made = await presser({ arrangement, body }, left.signal);
    if (!made.ok) throw new HttpProblem(422, 'notPressed', `${made.message} The arrangement is as it was.`);
    response.attachment(made.name).type(made.mediaType).send(Buffer.from(made.bytes));
  });

  router.post('/archive', [...uploads], async (request: Request, response: Response) => {
    const { archive } = await readUploads(request, response, rooms, 'again');
    const id = await store.bringBack(archive, requestIdOf(request));
    const body: Created = { id };
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
