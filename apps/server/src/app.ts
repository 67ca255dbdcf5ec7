/** The HTTP application: guard, routes, the built screens, problems. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { ArrangementStore } from './arrangementStore.js';
import { sameSiteOnly, tokenOnly } from './guard.js';
import { HttpProblem, problemHandler } from './problems.js';
import { arrangementRoutes } from './routes/arrangements.js';
import { planRoutes } from './routes/plans.js';
import { sentenceRoutes } from './routes/sentences.js';

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
}

/** Builds the application; it listens to nothing yet. */
export const createApp = ({ store, db, log, webFolder, hosts = [], token }: AppOptions): Express => {
  const app = express();
  app.disable('x-powered-by');
  app.use(pinoHttp({ logger: log, autoLogging: { ignore: (request) => !request.url?.startsWith('/api') } }));
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
          fontSrc: ["'self'", 'data:'],
          connectSrc: ["'self'", 'data:', 'blob:'],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(sameSiteOnly(hosts));
  if (token) app.use(tokenOnly(token));
  app.use('/api/arrangements', arrangementRoutes(store));
  app.use('/api/plans', planRoutes(db));
  app.use('/api/sentences', sentenceRoutes(db));
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
