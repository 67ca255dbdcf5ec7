/** Who is let in where others can reach the server: sessions, guessing, and that nothing secret is written anywhere. */
import { Writable } from 'node:stream';
import { pino } from 'pino';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { sessions } from './db/schema.js';
import { serve } from './serve.js';
import { Sessions } from './sessions.js';
import { newFile, type Running, startServer } from './testing/running.js';

const TOKEN = 'größer+als/sechzehn= %';
let server: Running;
let logged: string;
beforeEach(async () => {
  logged = '';
  const stream = new Writable({
    write: (piece, _encoding, done) => {
      logged += String(piece);
      done();
    },
  });
  server = await startServer(newFile(), { token: TOKEN, log: pino({ level: 'trace' }, stream) });
});
afterEach(() => server.stop());

const at = (address: string, init: RequestInit = {}) =>
  fetch(new URL(address, server.base), { redirect: 'manual', ...init });
const signIn = (token: string, cookie = '') =>
  at('/sign-in', {
    method: 'POST',
    headers: { 'Content-Type': 'application/x-www-form-urlencoded', Cookie: cookie },
    body: new URLSearchParams({ token }).toString(),
  });
/** What the browser sends back. */
const cookieOf = (response: Response): string => (response.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
const withCookie = (cookie: string, init: RequestInit = {}): RequestInit => ({
  ...init,
  headers: { ...init.headers, Cookie: cookie },
});
const bearer = (token: string): RequestInit => ({
  // As programs write it: UTF-8.
  headers: { Authorization: `Bearer ${Buffer.from(token, 'utf8').toString('latin1')}` },
});
const statusOf = async (init: RequestInit) => (await at('/api/arrangements', init)).status;

describe('a session', () => {
  it('is a value of chance that the server keeps only as a hash', async () => {
    const [first, second] = [cookieOf(await signIn(TOKEN)), cookieOf(await signIn(TOKEN))];
    expect(first).not.toBe(second);
    expect(await statusOf(withCookie(first))).toBe(200);
    const rows = await server.database.db.select().from(sessions);
    expect(rows).toHaveLength(2);
    for (const { hash } of rows) expect([first, second].some((cookie) => cookie.includes(hash))).toBe(false);
  });

  it('ends where one signs out, here or everywhere', async () => {
    const [here, there] = [cookieOf(await signIn(TOKEN)), cookieOf(await signIn(TOKEN))];
    const signOut = (cookie: string, everywhere: boolean) =>
      at('/api/session/end', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', Cookie: cookie },
        body: JSON.stringify({ everywhere }),
      });
    expect((await signOut(here, false)).status).toBe(204);
    expect([await statusOf(withCookie(here)), await statusOf(withCookie(there))]).toEqual([401, 200]);
    const third = cookieOf(await signIn(TOKEN));
    expect((await signOut(third, true)).status).toBe(204);
    expect([await statusOf(withCookie(there)), await statusOf(withCookie(third))]).toEqual([401, 401]);
  });

  it('ends by itself, and is begun again under its name where the browser still has it; not after signing out', async () => {
    const kept = new Sessions(server.database.db);
    const day = (days: number) => new Date(Date.UTC(2026, 0, 1 + days));
    const nameOf = async (value: string, when: Date) => {
      const state = await kept.use(value, when);
      return state.kind === 'signedIn' ? state.name : state.kind;
    };
    const { value } = await kept.begin('', day(0));
    const name = await nameOf(value, day(20));
    expect(name).toMatch(/^[a-z0-9]{12}$/);
    expect(await nameOf(value, day(45))).toBe(name);
    expect(await nameOf(value, day(89))).toBe('ended');
    const { value: again } = await kept.begin(value, day(89));
    expect(await nameOf(again, day(89))).toBe(name);
    await kept.end(again, day(90));
    const { value: third } = await kept.begin(again, day(91));
    const { value: fourth } = await kept.begin(again, day(91));
    const names = [name, await nameOf(third, day(91)), await nameOf(fourth, day(91))];
    expect(new Set(names).size).toBe(3);
    expect(await nameOf('made up', day(91))).toBe('unknown');
  });

  it('is told to the page by its name; where nobody has to sign in there is none', async () => {
    const cookie = cookieOf(await signIn(TOKEN));
    const { name } = (await (await at('/api/session', withCookie(cookie))).json()) as { name: string };
    expect(cookie).not.toContain(name);
    const open = await startServer(newFile());
    expect(await (await fetch(new URL('/api/session', open.base))).json()).toEqual({ name: null });
    await open.stop();
  });
});

describe('the token', () => {
  it('has sixteen characters at least where others can reach the server; else one is offered, and nothing is served', async () => {
    const starts = (token?: string) =>
      serve({ database: newFile(), port: 0, host: '0.0.0.0', ...(token === undefined ? {} : { token }) });
    await expect(starts('fifteen letters')).rejects.toThrow(/fewer than 16 characters/);
    await expect(starts()).rejects.toThrow(/needs an access token/);
    const offered = await starts('short').catch(({ message }: Error) => /just now: (\S+)$/.exec(message)?.[1] ?? '');
    expect(offered).toMatch(/^[\w-]{24}$/);
  });

  it('is taken as a bearer, of any letters, in UTF-8 and in Latin-1', async () => {
    expect(await statusOf(bearer(TOKEN))).toBe(200);
    expect(await statusOf({ headers: { Authorization: `Bearer ${TOKEN}` } })).toBe(200);
    expect(await statusOf(bearer(`${TOKEN}x`))).toBe(401);
  });

  it('is not kept waiting by four hundred wrong ones at once, cookies or bearers; those are', async () => {
    const began = performance.now();
    let answered = 0;
    const wrong = Array.from({ length: 400 }, (_, at) =>
      statusOf(at % 2 === 0 ? bearer(`guess ${at}`) : withCookie(`crispfold=guess-${at}`)).then((status) => {
        answered += 1;
        return [status, performance.now() - began] as const;
      }),
    );
    // All of them are under way.
    await new Promise((resolve) => setTimeout(resolve, 100));
    const asked = performance.now();
    expect(await statusOf(bearer(TOKEN))).toBe(200);
    expect(performance.now() - asked).toBeLessThan(2000);
    expect(answered).toBeLessThan(20);
    const answers = await Promise.all(wrong);
    expect(new Set(answers.map(([status]) => status))).toEqual(new Set([401]));
    // The first few came before the slowing; nearly all waited as long as one has to.
    expect(answers.filter(([, took]) => took > 7000).length).toBeGreaterThan(380);
  }, 60_000);

  it('is not to be had by guessing: after five hundred tries none is looked at', async () => {
    const tries = await Promise.all(Array.from({ length: 560 }, (_, at) => statusOf(bearer(`guess ${at}`))));
    expect(tries.filter((status) => status === 429).length).toBeGreaterThanOrEqual(50);
  }, 60_000);

  it('stands in no log, nor does what lets somebody in', async () => {
    const cookie = cookieOf(await signIn(TOKEN));
    await at('/api/arrangements', withCookie(cookie));
    await at('/api/arrangements', bearer(TOKEN));
    await at('/api/arrangements', bearer('a wrong one'));
    await at('/api/arrangements', { ...withCookie(cookie), method: 'PATCH' });
    expect(logged).toContain('/api/arrangements');
    for (const secret of [TOKEN, Buffer.from(TOKEN).toString('latin1'), cookie.split('=')[1] ?? '-', 'a wrong one'])
      expect(logged).not.toContain(secret);
  });
});
