import { CHARACTER_MAP } from '@scalaria/core';
import { Ajv, type ValidateFunction } from 'ajv';
import type { Express, Request, Response } from 'express';
import type { JsonSchema } from '@scalaria/core';
import { isSoundText } from '@scalaria/core';
import { Problem } from './problem.js';

/** One operation of the interface over HTTP. The same schemas check bodies and answers and make the OpenAPI document. */
export interface Route {
  method: 'get' | 'post' | 'patch' | 'put' | 'delete';
  /** With parameters in braces: `/api/jobs/{job}`; each is a UUID. */
  path: string;
  summary: string;
  query?: Record<string, JsonSchema>;
  /** A JSON schema, or `bytes` for a raw upload. */
  body?: JsonSchema | 'bytes';
  /** A JSON schema, or what kind of stream is answered. */
  answer: JsonSchema | 'bytes' | 'svg' | 'events' | 'nothing';
  status?: number;
  handle: (ask: Ask) => Promise<unknown>;
}

export interface Ask {
  params: Record<string, string>;
  query: Record<string, string>;
  body: unknown;
  request: Request;
  response: Response;
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;
/** What in a path is no id, and its form. */
const NAMED: Readonly<Record<string, RegExp>> = { number: /^[1-9]\d{0,5}$/, map: CHARACTER_MAP };
/** Whether a text has the form of an id. */
export const isId = (text: string): boolean => UUID.test(text);
const ajv = new Ajv({ allErrors: false, strictTypes: false });

const faultOf = (v: ValidateFunction): string => {
  const e = v.errors?.[0];
  return e ? `${e.instancePath || 'the body'} ${e.message ?? 'is wrong'}` : 'is wrong';
};

/** Whether no text in a body holds characters that the database cannot. Bodies are small. */
function isSound(value: unknown): boolean {
  if (typeof value === 'string') return isSoundText(value);
  if (Array.isArray(value)) return value.every(isSound);
  if (value === null || typeof value !== 'object') return true;
  return Object.entries(value).every(([k, v]) => isSoundText(k) && isSound(v));
}

/** Puts routes on the application. */
export function mount(app: Express, routes: readonly Route[]): void {
  for (const route of routes) {
    const body = typeof route.body === 'object' ? ajv.compile(route.body) : null;
    const answer = typeof route.answer === 'object' ? ajv.compile(route.answer) : null;
    const query = route.query ? ajv.compile({ type: 'object', properties: route.query }) : null;
    app[route.method](route.path.replace(/\{(\w+)\}/g, ':$1'), async (request, response) => {
      const params = request.params as Record<string, string>;
      for (const [name, value] of Object.entries(params)) {
        // A place in a list is called `number`, a map of characters goes by its name; everything else is known by its id.
        if (!(NAMED[name] ?? UUID).test(value)) throw new Problem(404, `"${value}" is no ${name}.`);
      }
      const asked = Object.fromEntries(Object.entries(request.query).map(([k, v]) => [k, String(v)]));
      if (query && !query(asked)) throw new Problem(400, `The query is not understood: ${faultOf(query)}.`);
      if (body && !isSound(request.body))
        throw new Problem(400, 'The request holds a character that cannot be kept (U+0000, or half of a pair).');
      if (body && !body(request.body)) throw new Problem(400, `The request is not understood: ${faultOf(body)}.`);
      const result = await route.handle({ params, query: asked, body: request.body, request, response });
      if (response.headersSent || response.writableEnded) return;
      if (route.answer === 'nothing') {
        response.status(route.status ?? 204).end();
        return;
      }
      if (!answer) return;
      // Dates become text first, so that what is checked is what is sent.
      const plain = JSON.parse(JSON.stringify(result)) as unknown;
      if (!answer(plain)) throw new Error(`answer of ${route.method} ${route.path}: ${faultOf(answer)}`);
      response.status(route.status ?? 200).json(plain);
    });
  }
}

/** The OpenAPI 3.0 document of the routes. */
export function openApi(routes: readonly Route[]): unknown {
  const paths: Record<string, Record<string, unknown>> = {};
  const content = (s: NonNullable<Route['body']> | Route['answer']): Record<string, unknown> => {
    if (typeof s === 'object') return { 'application/json': { schema: s } };
    const type = s === 'svg' ? 'image/svg+xml' : s === 'events' ? 'text/event-stream' : 'application/octet-stream';
    return { [type]: { schema: { type: 'string', format: 'binary' } } };
  };
  for (const r of routes) {
    const inPath = [...r.path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: NAMED[name!] ? { type: 'string', pattern: NAMED[name!]!.source } : { type: 'string', format: 'uuid' },
    }));
    const inQuery = Object.entries(r.query ?? {}).map(([name, schema]) => ({ name, in: 'query', schema }));
    const status = String(r.status ?? (r.answer === 'nothing' ? 204 : 200));
    const problem = {
      description: 'What went wrong, in words',
      content: { 'application/json': { schema: problemSchema } },
    };
    paths[r.path] = {
      ...paths[r.path],
      [r.method]: {
        summary: r.summary,
        parameters: [...inPath, ...inQuery],
        ...(r.body && { requestBody: { required: true, content: content(r.body) } }),
        responses: {
          [status]:
            r.answer === 'nothing' ? { description: 'Done' } : { description: 'Done', content: content(r.answer) },
          default: problem,
        },
      },
    };
  }
  return { openapi: '3.0.3', info: { title: 'Scalaria', version: '1' }, paths };
}

export const problemSchema: JsonSchema = {
  type: 'object',
  properties: { title: { type: 'string' }, where: { type: 'string' }, remedy: { type: 'string' } },
  required: ['title'],
};
