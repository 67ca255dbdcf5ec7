/** Who may ask: the right Host, the right Origin, and the access token where one is set. */
import { createHmac, timingSafeEqual } from 'node:crypto';
import { type RequestHandler, Router, urlencoded } from 'express';
import { HttpProblem } from './problems.js';

/** Hosts that are this machine. */
const LOCAL_HOSTS = ['127.0.0.1', 'localhost', '[::1]'];

const hostName = (host: string): string => host.replace(/:\d+$/, '').toLowerCase();

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
      throw new HttpProblem(403, 'wrongOrigin', 'This request came from another site and was refused.');
    }
    const fetchSite = request.headers['sec-fetch-site'];
    if (
      changes &&
      origin === undefined &&
      fetchSite !== undefined &&
      fetchSite !== 'same-origin' &&
      fetchSite !== 'none'
    ) {
      throw new HttpProblem(403, 'wrongOrigin', 'This request came from another site and was refused.');
    }
    next();
  };
};

const same = (a: string, b: string): boolean => {
  const left = Buffer.from(a);
  const right = Buffer.from(b);
  return left.length === right.length && timingSafeEqual(left, right);
};

const COOKIE = 'crispfold';
const COOKIE_DAYS = 90;
/** Each wrong token makes the next answer wait twice as long, from the first of these to the last (milliseconds). */
const SLOWEST = { first: 250, last: 8000 } as const;
/** So long after the last wrong one all is forgotten. */
const FORGET_MILLISECONDS = 15 * 60_000;

/** What the cookie holds: made of the token, and not the token. */
const cookieFor = (token: string): string => createHmac('sha256', token).update('crispfold-cookie').digest('base64url');

const cookieOf = (header: string | undefined): string =>
  new RegExp(`(?:^|;\\s*)${COOKIE}=([^;]+)`).exec(header ?? '')?.[1] ?? '';

/** Waits longer after each wrong token of an address. */
class Slowing {
  private readonly wrong = new Map<string, { times: number; last: number }>();

  async wait(address: string): Promise<void> {
    const now = Date.now();
    for (const [key, { last }] of this.wrong) if (now - last > FORGET_MILLISECONDS) this.wrong.delete(key);
    const times = (this.wrong.get(address)?.times ?? 0) + 1;
    this.wrong.set(address, { times, last: now });
    const pause = Math.min(SLOWEST.last, SLOWEST.first * 2 ** (times - 1));
    await new Promise((resolve) => setTimeout(resolve, pause));
  }

  forget(address: string): void {
    this.wrong.delete(address);
  }
}

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

/** Asks for the token: once on a page of its own, which sets a cookie; or as a bearer token. It is never part of an address. */
export const tokenOnly = (token: string): Router => {
  const slowing = new Slowing();
  const cookie = cookieFor(token);
  const router = Router();
  router.get('/sign-in', (_request, response) => {
    response.set('Cache-Control', 'no-store').type('html').send(page(''));
  });
  router.post('/sign-in', urlencoded({ extended: false, limit: '10kb' }), async (request, response) => {
    const given = (request.body as { token?: unknown } | undefined)?.token;
    const address = request.ip ?? '';
    if (typeof given !== 'string' || !same(given, token)) {
      await slowing.wait(address);
      response.status(401).set('Cache-Control', 'no-store').type('html').send(page('That is not the token.'));
      return;
    }
    slowing.forget(address);
    response.cookie(COOKIE, cookie, {
      httpOnly: true,
      sameSite: 'strict',
      secure: request.secure,
      maxAge: COOKIE_DAYS * 86_400_000,
    });
    response.redirect(303, '/');
  });
  router.use(async (request, response, next) => {
    if (same(cookieOf(request.headers.cookie), cookie)) {
      next();
      return;
    }
    const bearer = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
    if (bearer !== undefined && same(bearer, token)) {
      next();
      return;
    }
    if (bearer !== undefined) await slowing.wait(request.ip ?? '');
    const page = request.method === 'GET' && !request.path.startsWith('/api') && request.accepts('html') === 'html';
    if (page && bearer === undefined) {
      response.redirect(303, '/sign-in');
      return;
    }
    throw new HttpProblem(401, 'token', 'This Crisp Fold asks for its access token. Open it again to sign in.');
  });
  return router;
};
