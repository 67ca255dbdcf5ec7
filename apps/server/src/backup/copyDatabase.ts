/** One consistent copy of a database that may be in use. */
import { rename, rm } from 'node:fs/promises';
import { createClient } from '@libsql/client';

/** Writes a copy of `from` to `to`; what is not whole never stands under that name. */
export const copyDatabase = async (from: string, to: string): Promise<void> => {
  const growing = `${to}.part`;
  await rm(growing, { force: true });
  const client = createClient({ url: `file:${from}` });
  try {
    await client.execute({ sql: 'VACUUM INTO ?', args: [growing] });
    await rename(growing, to);
  } finally {
    client.close();
    await rm(growing, { force: true });
  }
};
