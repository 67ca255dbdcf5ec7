/** /api/feels: the feels that a person keeps under a name. */
import { feelNameSchema, keptFeelSchema } from '@crispfold/contract';
import type { KeptFeel } from '@crispfold/core';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import type { Router } from 'express';
import { feels } from '../db/schema.js';
import { namedRoutes } from './named.js';

/** Routes over one database. */
export const feelRoutes = (db: LibSQLDatabase): Router =>
  namedRoutes(db, {
    what: 'feel',
    table: feels,
    nameSchema: feelNameSchema,
    bodySchema: keptFeelSchema,
    read: (stored) => stored as KeptFeel,
  });
