/** Who may ask: the right Host, the right Origin, and the access token where one is set. */
import { createHash, timingSafeEqual } from 'node:crypto';
import { type SessionItem, signOutBodySchema } from '@crispfold/contract';
import { type Request, type RequestHandler, type Response, Router, urlencoded } from 'express';
import { jsonBody } from './jsonBody.js';
import { HttpProblem } from './problems.js';
import type { Sessions } from './sessions.js';
import { Slowing } from './slowing.js';

/** Hosts that are this machine. */
const LOCAL_HOSTS = ['127.0.0.1', 'localhost', '[::1]'];

const hostName = (host: string): string => host.replace(/:\d+$/, '').toLowerCase();

const wrongOrigin = (): HttpProblem =>
  new HttpProblem(403, 'wrongOrigin', 'This request came from another site and was refused.');

/** True where the browser says that another site's page asks (W3C, Fetch Metadata Request Headers). */
const isFromElsewhere = (request: Request): boolean => {
  const from = request.headers['sec-fetch-site'];
  return from !== undefined && from !== 'same-origin' && from !== 'none';
};

/** Refuses requests that name another host, or that come from another site's page. */
export const sameSiteOnly = (extraHosts: readonly string[]): RequestHandler => {
  const hosts = new Set([...LOCAL_HOSTS, ...extraHosts.map((host) => host.toLowerCase())]);
  return (request, _response, next) => {
    const host = request.headers.host ?? '';
    if (!hosts.has(hostName(host))) {
      throw new HttpProblem(421, 'wrongHost', 'This address does not lead to Crisp Fold.');
    }
    const { origin } = request.headers;
    const changes = request.method !== 'GET' && request.method !== 'HEAD';
    if (changes && origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`) {
      throw wrongOrigin();
    }
    if (changes && origin === undefined && isFromElsewhere(request)) throw wrongOrigin();
    next();
  };
};

/** Alike, told in a time that says nothing of where they differ. */
const same = (a: string, b: string): boolean => {
  const [left, right] = [a, b].map((text) => createHash('sha256').update(text).digest());
  return left !== undefined && right !== undefined && timingSafeEqual(left, right);
};

const COOKIE = 'crispfold';

const cookieOf = (request: Request): string =>
  new RegExp(`(?:^|;\\s*)${COOKIE}=([^;]+)`).exec(request.headers.cookie ?? '')?.[1] ?? '';

/** A bearer token, of any letters: as it was written in UTF-8, which headers are not read as, and in Latin-1. */
const bearersOf = (request: Request): readonly string[] => {
  const given = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
  return given === undefined ? [] : [Buffer.from(given, 'latin1').toString('utf8'), given];
};

const page = (message: string): string => `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>Sign in · Crisp Fold</title>
<style>
  body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: #efe8da; color: #241f18; font: 17px/1.5 Georgia, serif }
  form { display: grid; gap: .8rem; width: min(22rem, 90vw) }
  h1 { margin: 0; font-weight: 400 }
  input, button { font: inherit; padding: .5rem .7rem; border: 1px solid #8f8672; background: #fdfaf2; color: inherit }
  button { background: #241f18; color: #fdfaf2 }
  :focus-visible { outline: 3px solid #b0431f; outline-offset: 2px }
  p { margin: 0 } p[role=alert] { color: #8a2f12; font-weight: 600 }
</style>
<form method="post" action="/sign-in">
  <h1>Crisp Fold</h1>
  <label for="token">Access token, as it was set where Crisp Fold runs</label>
  <input id="token" name="token" type="password" autocomplete="current-password" required autofocus>
  ${message ? `<p role="alert">${message}</p>` : ''}
  <button>Sign in</button>
</form>
</html>
`;

const NOT_THE_TOKEN = 'That is not the token.';
const TOO_OFTEN = 'Too many wrong tokens came from here. Wait a minute, and try again.';
const RETRY_SECONDS = 60;

const tooOften = (response: Response): Response => response.status(429).set('Retry-After', String(RETRY_SECONDS));

/** Makes signing in slow for those who guess, and keeps who is signed in. */
const signingIn = (token: string, sessions: Sessions, slowing: Slowing): Router => {
  const router = Router();
  const say = (response: Response, message: string) =>
    void response.set('Cache-Control', 'no-store').type('html').send(page(message));
  router.get('/sign-in', (_request, response) => say(response, ''));
  router.post('/sign-in', urlencoded({ extended: false, limit: '10kb' }), async (request, response) => {
    const given = (request.body as { token?: unknown } | undefined)?.token;
    const address = request.ip ?? '';
    if (!slowing.allows(address)) {
      say(tooOften(response), TOO_OFTEN);
      return;
    }
    if (typeof given !== 'string' || !same(given, token)) {
      await slowing.wrong(address);
      say(response.status(401), NOT_THE_TOKEN);
      return;
    }
    slowing.forget(address);
    const { value, lasts } = await sessions.begin(cookieOf(request));
    response.cookie(COOKIE, value, { httpOnly: true, sameSite: 'strict', secure: request.secure, maxAge: lasts });
    response.redirect(303, '/');
  });
  return router;
};

/**
 * Asks for the token: once on a page of its own, which begins a session; or as a bearer token. It is never part of an address.
 * Who is signed in can sign out, here or everywhere.
 */
export const tokenOnly = (token: string, sessions: Sessions, slowing = new Slowing()): Router => {
  const router = Router();
  router.use(signingIn(token, sessions, slowing));
  router.use(async (request, response, next) => {
    const state = await sessions.use(cookieOf(request));
    if (state.kind === 'signedIn') {
      response.locals.session = state.name;
      next();
      return;
    }
    const bearers = bearersOf(request);
    const guesses = bearers.length > 0 || state.kind === 'unknown';
    if (guesses && !slowing.allows(request.ip ?? '')) {
      tooOften(response);
      throw new HttpProblem(429, 'tooOften', TOO_OFTEN);
    }
    if (bearers.some((bearer) => same(bearer, token))) {
      next();
      return;
    }
    if (guesses) await slowing.wrong(request.ip ?? '');
    if (state.kind === 'unknown') response.clearCookie(COOKIE);
    const page = request.method === 'GET' && !request.path.startsWith('/api') && request.accepts('html') === 'html';
    if (page && bearers.length === 0) {
      response.redirect(303, '/sign-in');
      return;
    }
    throw new HttpProblem(401, 'token', 'This Crisp Fold asks for its access token. Open it again to sign in.');
  });
  router.post('/api/session/end', jsonBody('1kb'), async (request: Request, response: Response) => {
    const { everywhere } = await signOutBodySchema.validate(request.body, { strict: true });
    if (everywhere) await sessions.endAll();
    else await sessions.end(cookieOf(request));
    response.clearCookie(COOKIE).status(204).end();
  });
  return router;
};

/** Who is signed in, as far as a page may know. */
export const sessionRoute: RequestHandler = (_request, response) => {
  const body: SessionItem = { name: (response.locals.session as string | undefined) ?? null };
  response.json(body);
};

/** Refuses what another site's page asks for, also where it only reads: for answers that cost much. */
export const notFromElsewhere: RequestHandler = (request, _response, next) => {
  if (isFromElsewhere(request)) throw wrongOrigin();
  next();
};
