/** What the server did by itself: written to the log, and told in the library until somebody has read it. */
import type { NoticeItem } from '@crispfold/contract';
import { asc, eq } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import type { Logger } from 'pino';
import { notices } from './db/schema.js';

/** The notices of one database. */
export class Notices {
  constructor(
    private readonly db: LibSQLDatabase,
    private readonly log: Logger,
  ) {}

  /** Those that nobody has read yet, oldest first. */
  list(): Promise<NoticeItem[]> {
    return this.db.select().from(notices).orderBy(asc(notices.id));
  }

  async add(text: string): Promise<void> {
    this.log.warn(text);
    await this.db.insert(notices).values({ text, at: new Date().toISOString() });
  }

  /** It was read. */
  async remove(id: number): Promise<void> {
    await this.db.delete(notices).where(eq(notices.id, id));
  }
}
