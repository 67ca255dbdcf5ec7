/** /api/sentences: the sentences that a person named. */
import { sentenceNameSchema, sentenceSchema } from '@crispfold/contract';
import type { Sentence } from '@crispfold/core';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import type { Router } from 'express';
import { sentences } from '../db/schema.js';
import { namedRoutes } from './named.js';

/** Routes over one database. */
export const sentenceRoutes = (db: LibSQLDatabase): Router =>
  namedRoutes(db, {
    what: 'sentence',
    table: sentences,
    nameSchema: sentenceNameSchema,
    bodySchema: sentenceSchema,
    read: (stored) => stored as Sentence,
  });
