/**
 * SQLite takes one writer at a time and refuses a second. The driver has several connections, so writes wait for one another
 * here; reading waits for nothing.
 */
import type { Client, InArgs, InStatement, Transaction, TransactionMode } from '@libsql/client';
import PQueue from 'p-queue';

const READS = /^\s*(select|pragma|explain)\b/i;

const reads = (statement: InStatement): boolean =>
  READS.test(typeof statement === 'string' ? statement : statement.sql);

/** Another program may hold the database for a moment: it is asked again so often, with such a pause (milliseconds). */
const TRIES = 20;
const PAUSE = 100;

const isBusy = (error: unknown): boolean => /^SQLITE_(BUSY|LOCKED)/.test((error as { code?: string }).code ?? '');

/**
 * Begins something, again and again while another program holds the database. A statement that was told so stays under way in
 * its connection, and no transaction of that one could be committed any more: new connections are made.
 */
const patiently = async <Value>(client: Client, begin: () => Promise<Value>): Promise<Value> => {
  for (let tries = 1; ; tries += 1) {
    try {
      return await begin();
    } catch (error) {
      if (!isBusy(error)) throw error;
      await client.reconnect();
      if (tries === TRIES) throw error;
      await new Promise((resolve) => setTimeout(resolve, PAUSE));
    }
  }
};

/** The same client, but that its writes take turns. A transaction has its turn until it is committed, rolled back or closed. */
export const oneWriteAtATime = (client: Client): Client => {
  const line = new PQueue({ concurrency: 1 });
  const inTurn = <Value>(work: () => Promise<Value>): Promise<Value> =>
    line.add(() => patiently(client, work)) as Promise<Value>;

  const transaction = async (mode: TransactionMode = 'write'): Promise<Transaction> => {
    if (mode === 'read') return client.transaction(mode);
    let end = (): void => undefined;
    const ended = new Promise<void>((resolve) => {
      end = resolve;
    });
    const begun = new Promise<Transaction>((resolve, reject) => {
      void line.add(async () => {
        try {
          resolve(await patiently(client, () => client.transaction(mode)));
        } catch (error) {
          reject(error);
          return;
        }
        await ended;
      });
    });
    const own = await begun;
    return {
      execute: (statement: InStatement) => own.execute(statement),
      batch: (statements: InStatement[]) => own.batch(statements),
      executeMultiple: (sql: string) => own.executeMultiple(sql),
      commit: () => own.commit().finally(end),
      rollback: () => own.rollback().finally(end),
      close: () => {
        own.close();
        end();
      },
      get closed() {
        return own.closed;
      },
    } as Transaction;
  };

  const execute = (statement: InStatement | string, args?: InArgs) => {
    const work = () => (typeof statement === 'string' ? client.execute(statement, args) : client.execute(statement));
    return reads(statement) ? work() : inTurn(work);
  };

  return {
    execute: execute as Client['execute'],
    batch: (statements, mode) => inTurn(() => client.batch(statements, mode)),
    migrate: (statements) => inTurn(() => client.migrate(statements)),
    transaction: transaction as Client['transaction'],
    executeMultiple: (sql) => inTurn(() => client.executeMultiple(sql)),
    sync: () => client.sync(),
    reconnect: () => client.reconnect(),
    close: () => client.close(),
    get closed() {
      return client.closed;
    },
    protocol: client.protocol,
  };
};
