/** /api/plans: the plans that a person named. */
import { planBodySchema, planNameSchema } from '@crispfold/contract';
import { type AnyPlan, upgradePlan } from '@crispfold/core';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import type { Router } from 'express';
import { plans } from '../db/schema.js';
import { namedRoutes } from './named.js';

/** Routes over one database. */
export const planRoutes = (db: LibSQLDatabase): Router =>
  namedRoutes(db, {
    what: 'plan',
    table: plans,
    nameSchema: planNameSchema,
    bodySchema: planBodySchema,
    read: (stored) => upgradePlan(stored as AnyPlan),
  });
