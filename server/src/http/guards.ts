import { timingSafeEqual } from 'node:crypto';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import { Problem } from './problem.js';

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]']);

export const isLoopback = (host: string): boolean => LOOPBACK.has(host) || host === '::1';

const nameOf = (host: string): string => host.replace(/:\d+$/, '').toLowerCase();

/**
 * Refuses requests that were addressed to another host (a page elsewhere that resolves its name to this machine) and
 * those that a page of another origin sends.
 */
export function sameHostOnly(allowed: readonly string[]): RequestHandler {
  const names = new Set([...LOOPBACK, ...allowed.map((a) => a.toLowerCase())]);
  return (request: Request, _response: Response, next: NextFunction) => {
    const host = request.headers.host ?? '';
    if (!names.has(nameOf(host))) throw new Problem(403, `This server does not answer to the host "${host}".`);
    const { origin } = request.headers;
    if (origin !== undefined) {
      let from: string;
      try {
        from = new URL(origin).host;
      } catch {
        throw new Problem(403, 'Requests from that origin are refused.');
      }
      if (from !== host) throw new Problem(403, `Requests from the origin ${origin} are refused.`);
    }
    const site = request.headers['sec-fetch-site'];
    if (site === 'cross-site' && request.method !== 'GET')
      throw new Problem(403, 'Requests from other sites are refused.');
    next();
  };
}

/** A cookie's value; what is no encoded text is no value, since anybody may send anything. */
function decoded(value: string | undefined): string | undefined {
  try {
    return value && decodeURIComponent(value);
  } catch {
    return undefined;
  }
}

/** Asks for the access key: as a bearer token, or once as `?key=`, which sets a cookie. */
export function keyRequired(key: string): RequestHandler {
  const right = (given: string): boolean => {
    const [a, b] = [Buffer.from(given), Buffer.from(key)];
    return a.length === b.length && timingSafeEqual(a, b);
  };
  return (request, response, next) => {
    const bearer = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
    const cookie = decoded(/(?:^|;\s*)scalaria-key=([^;]+)/.exec(request.headers.cookie ?? '')?.[1]);
    const asked = typeof request.query['key'] === 'string' ? request.query['key'] : undefined;
    if (asked && right(asked)) {
      response.setHeader('Set-Cookie', `scalaria-key=${encodeURIComponent(asked)}; HttpOnly; SameSite=Strict; Path=/`);
      return next();
    }
    if ((bearer && right(bearer)) || (cookie && right(cookie))) return next();
    throw new Problem(401, 'This server asks for its access key: open it with ?key=…');
  };
}
