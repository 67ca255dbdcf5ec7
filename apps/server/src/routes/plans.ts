/** /api/plans: the plans that a person named. */
import { planBodySchema, planNameSchema } from '@crispfold/contract';
import { type AnyPlan, type Plan, upgradePlan } from '@crispfold/core';
import { asc, eq } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { json, type Request, Router } from 'express';
import { plans } from '../db/schema.js';
import { HttpProblem } from '../problems.js';

const nameOf = (request: Request): string => {
  if (!planNameSchema.isValidSync(request.params.name))
    throw new HttpProblem(404, 'notFound', 'There is no such plan.');
  return request.params.name as string;
};

/** Routes over one database. */
export const planRoutes = (db: LibSQLDatabase): Router => {
  const router = Router();

  router.get('/', async (_request, response) => {
    const rows = await db.select().from(plans).orderBy(asc(plans.name));
    response.json(rows.map((row) => upgradePlan(JSON.parse(row.data) as AnyPlan)));
  });

  router.put('/:name', json({ limit: '1mb' }), async (request, response) => {
    const name = nameOf(request);
    const plan = (await planBodySchema.validate(request.body, { strict: true })) as unknown as Plan;
    const row = { name, data: JSON.stringify({ ...plan, name }), changedAt: new Date().toISOString() };
    await db.insert(plans).values(row).onConflictDoUpdate({ target: plans.name, set: row });
    response.status(204).end();
  });

  router.delete('/:name', async (request, response) => {
    const gone = await db
      .delete(plans)
      .where(eq(plans.name, nameOf(request)))
      .returning();
    if (gone.length === 0) throw new HttpProblem(404, 'notFound', 'There is no such plan.');
    response.status(204).end();
  });

  return router;
};
