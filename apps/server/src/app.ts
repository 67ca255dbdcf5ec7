/** The HTTP application: guard, routes, the built screens, problems. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { ArrangementStore } from './arrangementStore.js';
import type { Backups } from './backup/backups.js';
import { sameSiteOnly, sessionRoute, tokenOnly } from './guard.js';
import type { Importer } from './importing/importer.js';
import { readFiles } from './importing/readFiles.js';
import { Readings } from './importing/readings.js';
import type { RecordingStore } from './keeping/recordingStore.js';
import type { SoundFontStore } from './keeping/soundFontStore.js';
import { createUploads } from './keeping/uploads.js';
import type { Notices } from './notices.js';
import type { Presser } from './pressing/presser.js';
import { HttpProblem, problemHandler } from './problems.js';
import { arrangementRoutes } from './routes/arrangements.js';
import { backupRoutes } from './routes/backup.js';
import { feelRoutes } from './routes/feels.js';
import { noticeRoutes } from './routes/notices.js';
import { planRoutes } from './routes/plans.js';
import { readingRoutes } from './routes/readings.js';
import { recordingRoutes } from './routes/recordings.js';
import { sentenceRoutes } from './routes/sentences.js';
import { soundFontRoutes } from './routes/soundFont.js';
import { Sessions } from './sessions.js';

/** What the application needs. */
export interface AppOptions {
  readonly store: ArrangementStore;
  readonly db: LibSQLDatabase;
  readonly log: Logger;
  /** Folder of the built screens. */
  readonly webFolder: string;
  /** Names besides this machine's own by which it may be called. */
  readonly hosts?: readonly string[];
  readonly token?: string | undefined;
  /** Reads files; in a thread of their own where the server runs for real. */
  readonly importer?: Importer;
  /** Makes PDF files. */
  readonly presser: Presser;
  /** True where a proxy that speaks https stands before it. */
  readonly behindProxy?: boolean;
  readonly backups?: Backups;
  readonly recordings: RecordingStore;
  readonly soundFont: SoundFontStore;
  readonly notices: Notices;
  /** Where files lie that are on their way in. */
  readonly workFolder: string;
}

/** Builds the application; it listens to nothing yet. */
export const createApp = ({
  store,
  db,
  log,
  webFolder,
  hosts = [],
  token,
  importer = (asked) => readFiles(asked),
  presser,
  behindProxy = false,
  backups,
  recordings,
  soundFont,
  notices,
  workFolder,
}: AppOptions): Express => {
  const app = express();
  app.disable('x-powered-by');
  // Answers are never kept, and to digest one of thirty megabytes would hold others up.
  app.disable('etag');
  if (behindProxy) app.set('trust proxy', 1);
  app.use(
    pinoHttp({
      logger: log,
      autoLogging: { ignore: (request) => !request.url?.startsWith('/api') },
      // Headers hold what lets somebody in; nothing of a request is told but what it asked for.
      serializers: { req: ({ id, method, url }) => ({ id, method, url }), res: ({ statusCode }) => ({ statusCode }) },
    }),
  );
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          // The engraver is WebAssembly, and its strings are compiled, not evaluated.
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          workerSrc: ["'self'", 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          mediaSrc: ["'self'", 'blob:'],
          fontSrc: ["'self'", 'data:'],
          connectSrc: ["'self'", 'data:', 'blob:'],
          objectSrc: ["'none'"],
          formAction: ["'self'"],
          baseUri: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      // Without its own referrer a browser sends the sign-in form as if from nowhere.
      referrerPolicy: { policy: 'same-origin' },
      strictTransportSecurity: false,
    }),
  );
  app.use(sameSiteOnly(hosts));
  if (token) app.use(tokenOnly(token, new Sessions(db)));
  app.use('/api', (_request, response, next) => {
    response.set('Cache-Control', 'no-store');
    next();
  });
  app.get('/api/session', sessionRoute);
  app.use('/api/notices', noticeRoutes(notices));
  const readings = new Readings();
  app.use('/api/readings', readingRoutes(readings));
  app.use('/api/arrangements', recordingRoutes(recordings, workFolder));
  app.use(
    '/api/arrangements',
    arrangementRoutes({ store, uploads: createUploads(workFolder), importer, readings, presser, recordings }),
  );
  app.use('/api/soundfont', soundFontRoutes(soundFont, workFolder));
  app.use('/api/plans', planRoutes(db));
  app.use('/api/feels', feelRoutes(db));
  app.use('/api/sentences', sentenceRoutes(db));
  if (backups) app.use('/api/backup', backupRoutes(backups));
  app.use('/api', () => {
    throw new HttpProblem(404, 'noRoute', 'There is nothing at this address.');
  });
  if (existsSync(webFolder)) {
    app.use(
      '/assets',
      express.static(path.join(webFolder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
    );
    app.use(express.static(webFolder, { index: false }));
    app.get('/{*path}', (_request, response) => {
      response.set('Cache-Control', 'no-cache').sendFile(path.join(webFolder, 'index.html'));
    });
  }
  app.use(problemHandler(log));
  return app;
};
