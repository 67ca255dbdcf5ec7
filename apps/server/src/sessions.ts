/** Who is signed in. A session is a random value in a cookie; the server keeps its SHA-256, its last use and its end. */
import { createHash, randomBytes } from 'node:crypto';
import { eq, lt } from 'drizzle-orm';
import type { LibSQLDatabase } from 'drizzle-orm/libsql';
import { sessions } from './db/schema.js';
import { newId } from './newId.js';

const DAY = 86_400_000;
/** A session ends after so many days without use, and after so many in all. */
const IDLE_DAYS = 30;
const MOST_DAYS = 90;
/** Its last use is written down when so many milliseconds have passed since. */
const NOTED_EACH = 3_600_000;
/** Bytes of chance in a session: more than can be guessed. */
const BYTES = 32;

const hashOf = (value: string): string => createHash('sha256').update(value).digest('base64url');

/** What is found for a value: nobody made it, it has ended, or it is signed in and called so. */
export type SessionState =
  | { readonly kind: 'unknown' }
  | { readonly kind: 'ended' }
  | { readonly kind: 'signedIn'; readonly name: string };

/** The sessions of one database. */
export class Sessions {
  constructor(private readonly db: LibSQLDatabase) {}

  /**
   * Begins one; answers what the cookie holds, and for how long at most, in milliseconds. Where the browser still holds one
   * that ended by itself, the new one has its name.
   */
  async begin(before: string, now = new Date()): Promise<{ readonly value: string; readonly lasts: number }> {
    const value = randomBytes(BYTES).toString('base64url');
    const [old] = await this.db
      .select()
      .from(sessions)
      .where(eq(sessions.hash, hashOf(before)));
    const at = now.toISOString();
    const lasts = MOST_DAYS * DAY;
    await this.db.insert(sessions).values({
      hash: hashOf(value),
      name: old?.name || newId(),
      createdAt: at,
      usedAt: at,
      endsAt: new Date(now.getTime() + lasts).toISOString(),
    });
    // What ended long ago is not even known as such any more.
    await this.db.delete(sessions).where(lt(sessions.endsAt, new Date(now.getTime() - lasts).toISOString()));
    return { value, lasts };
  }

  /** What a value is; its use is noted. */
  async use(value: string, now = new Date()): Promise<SessionState> {
    if (value === '') return { kind: 'ended' };
    const own = eq(sessions.hash, hashOf(value));
    const [row] = await this.db.select().from(sessions).where(own);
    if (!row) return { kind: 'unknown' };
    const unused = now.getTime() - Date.parse(row.usedAt);
    if (now.toISOString() > row.endsAt || unused > IDLE_DAYS * DAY) return { kind: 'ended' };
    if (unused > NOTED_EACH) await this.db.update(sessions).set({ usedAt: now.toISOString() }).where(own);
    return { kind: 'signedIn', name: row.name };
  }

  /** Signs one out: it ends, and is not begun again under its name. */
  async end(value: string, now = new Date()): Promise<void> {
    await this.db
      .update(sessions)
      .set(ended(now))
      .where(eq(sessions.hash, hashOf(value)));
  }

  /** Signs all out. */
  async endAll(now = new Date()): Promise<void> {
    await this.db.update(sessions).set(ended(now));
  }
}

const ended = (now: Date) => ({ endsAt: new Date(now.getTime() - 1).toISOString(), name: '' });
