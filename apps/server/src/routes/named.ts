/** Things that a person keeps under a name, for use in any arrangement: listed, put, deleted by name. */
import { asc, eq } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { type Request, type Response, Router } from 'express';
import type * as yup from 'yup';
import type { feels, plans, sentences } from '../db/schema.js';
import { jsonBody } from '../jsonBody.js';
import { HttpProblem } from '../problems.js';

/** One kind of named thing. */
export interface NamedThings<Thing> {
  /** "plan", as it is told. */
  readonly what: string;
  readonly table: typeof plans | typeof sentences | typeof feels;
  readonly nameSchema: yup.StringSchema;
  readonly bodySchema: yup.AnyObjectSchema;
  /** From its stored form, which may be an earlier one. */
  readonly read: (stored: unknown) => Thing;
}

/** Routes over one database. */
export const namedRoutes = <Thing>(db: LibSQLDatabase, things: NamedThings<Thing>): Router => {
  const { what, nameSchema, bodySchema, read } = things;
  // All these tables have the same columns; Drizzle's types know them one by one.
  const table = things.table as typeof plans;
  const missing = () => new HttpProblem(404, 'notFound', `There is no such ${what}.`);
  const nameOf = (request: Request): string => {
    if (!nameSchema.isValidSync(request.params.name)) throw missing();
    return request.params.name as string;
  };
  const router = Router();

  router.get('/', async (_request, response) => {
    const rows = await db.select().from(table).orderBy(asc(table.name));
    // One that is damaged must not take the others along.
    const whole = rows.flatMap(({ data }): Thing[] => {
      try {
        const thing = read(JSON.parse(data));
        return bodySchema.isValidSync(thing, { strict: true }) ? [thing] : [];
      } catch {
        return [];
      }
    });
    response.json(whole);
  });

  router.put('/:name', jsonBody('1mb'), async (request: Request, response: Response) => {
    const name = nameOf(request);
    const thing = (await bodySchema.validate({ ...request.body, name }, { strict: true })) as object;
    const row = { name, data: JSON.stringify({ ...thing, name }), changedAt: new Date().toISOString() };
    await db.insert(table).values(row).onConflictDoUpdate({ target: table.name, set: row });
    response.status(204).end();
  });

  router.delete('/:name', async (request, response) => {
    const gone = await db
      .delete(table)
      .where(eq(table.name, nameOf(request)))
      .returning();
    if (gone.length === 0) throw missing();
    response.status(204).end();
  });

  return router;
};
