/** Who may ask: the right Host, the right Origin, and the access token where one is set. */
import { timingSafeEqual } from 'node:crypto';
import type { RequestHandler } from 'express';
import { HttpProblem } from './problems.js';

/** Hosts that are this machine. */
const LOCAL_HOSTS = ['127.0.0.1', 'localhost', '[::1]'];

const hostName = (host: string): string => host.replace(/:\d+$/, '');

/** Refuses requests that name another host, or that come from another site's page. */
export const sameSiteOnly =
  (extraHosts: readonly string[]): RequestHandler =>
  (request, _response, next) => {
    const host = request.headers.host ?? '';
    if (![...LOCAL_HOSTS, ...extraHosts].includes(hostName(host))) {
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

const same = (a: string, b: string): boolean => {
  const left = Buffer.from(a);
  const right = Buffer.from(b);
  return left.length === right.length && timingSafeEqual(left, right);
};

const COOKIE = 'crispfold-token';

/** Asks for the token: once as `?token=…`, which sets a cookie, or as a bearer token. */
export const tokenOnly =
  (token: string): RequestHandler =>
  (request, response, next) => {
    const given =
      /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1] ??
      new RegExp(`(?:^|; )${COOKIE}=([^;]+)`).exec(request.headers.cookie ?? '')?.[1] ??
      (typeof request.query.token === 'string' ? request.query.token : '');
    if (!same(given, token)) throw new HttpProblem(401, 'token', 'This Crisp Fold asks for its access token.');
    if (request.query.token === token) response.cookie(COOKIE, token, { httpOnly: true, sameSite: 'strict' });
    next();
  };
