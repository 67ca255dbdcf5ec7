import { createClient } from '@libsql/client';
import { sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/libsql';
import { expect, it, vi } from 'vitest';
import { newFile } from '../testing/running.js';
import { oneWriteAtATime } from './oneWriteAtATime.js';

it('writes wait for one another here, and never meet in the database; reading goes on within them', async () => {
  const plain = createClient({ url: `file:${newFile()}` });
  await plain.execute('PRAGMA journal_mode = WAL');
  await plain.execute('create table noted (number int)');
  const refused = vi.spyOn(plain, 'reconnect');
  const client = oneWriteAtATime(plain);
  const db = drizzle(client);
  const order: string[] = [];
  const transaction = (name: string, fails = false) =>
    db.transaction(async (tx) => {
      order.push(`${name} begins`);
      await tx.run(sql`insert into noted values (1)`);
      const { rows } = await client.execute('select count(*) as count from noted');
      expect(Number(rows[0]?.count)).toBeLessThan(9);
      await new Promise((resolve) => setTimeout(resolve, 20));
      if (fails) throw new Error('given up');
      order.push(`${name} ends`);
    });
  await Promise.allSettled([
    transaction('first'),
    transaction('second', true),
    client.execute('insert into noted values (2)').then(() => order.push('plain')),
    transaction('third'),
  ]);
  expect(order).toEqual(['first begins', 'first ends', 'second begins', 'plain', 'third begins', 'third ends']);
  expect(refused).not.toHaveBeenCalled();
  expect((await client.execute('select count(*) as count from noted')).rows[0]?.count).toBe(3);
  client.close();
});
