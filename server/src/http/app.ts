import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { join } from 'node:path';
import type { ErrorRequestHandler, Express } from 'express';
import express from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { DamagedBlob, NoRoom } from '../blobs/blob-store.js';
import { TookTooLong } from '../tasks/pool.js';
import type { Context } from './context.js';
import { keyRequired, sameHostOnly } from './guards.js';
import { Problem } from './problem.js';
import { mount, openApi } from './route.js';
import { binRoutes } from './routes/bin.js';
import { characterMapRoutes } from './routes/character-maps.js';
import { correctionRoutes } from './routes/corrections.js';
import { deliveryRoutes } from './routes/deliveries.js';
import { drawingRoutes } from './routes/drawings.js';
import { fontRoutes } from './routes/fonts.js';
import { partRoutes } from './routes/parts.js';
import { pictureRoutes } from './routes/pictures.js';
import { jobRoutes } from './routes/jobs.js';
import { recipeRoutes } from './routes/recipes.js';
import { setRoutes } from './routes/sets.js';
import { trackerRoutes } from './routes/tracker.js';

const WEB = fileURLToPath(new URL('../../../web/dist', import.meta.url));

export interface AppOptions {
  /** Host names besides loopback that requests may be addressed to. */
  hosts: readonly string[];
  /** Needed on every request when set. */
  key: string | undefined;
}

export function makeApp(context: Context, options: AppOptions, log: Logger): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          // The renderer that an SVG is judged by is WebAssembly of our own.
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          // A report opened as a page holds its own letters.
          fontSrc: ["'self'", 'data:'],
          imgSrc: ["'self'", 'data:', 'blob:'],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          frameAncestors: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
        },
      },
      strictTransportSecurity: false,
      // With the opener policy that is sent anyway, the page may share memory with its worker, and stop it while it works.
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      frameguard: { action: 'deny' },
    }),
  );
  app.use(sameHostOnly(options.hosts));
  if (options.key) app.use(keyRequired(options.key));
  app.use('/api', express.json({ limit: '4mb', type: 'application/json' }));

  const routes = [
    jobRoutes,
    recipeRoutes,
    setRoutes,
    trackerRoutes,
    correctionRoutes,
    drawingRoutes,
    partRoutes,
    deliveryRoutes,
    fontRoutes,
    pictureRoutes,
    binRoutes,
    characterMapRoutes,
  ].flatMap((of) => of(context));
  mount(app, routes);
  const document = openApi(routes);
  app.get('/api/openapi.json', (_request, response) => void response.json(document));
  app.use('/api', () => {
    throw new Problem(404, 'There is no such address.');
  });

  if (existsSync(WEB)) {
    app.use(express.static(WEB, { index: false, maxAge: '1h' }));
    app.get('/{*path}', (_request, response) => {
      response.setHeader('Cache-Control', 'no-cache');
      response.sendFile(join(WEB, 'index.html'));
    });
  }
  app.use(problems(log));
  return app;
}

/** What a person can do something about, though it is no fault of the request. */
function problemOf(error: unknown): Problem | null {
  // A database says it in its own words, in the code of the error or of its cause.
  const codes = [error, (error as Error | undefined)?.cause].map((e) => (e as { code?: string } | undefined)?.code);
  if (error instanceof NoRoom || codes.some((c) => c === 'ENOSPC' || c === '53100' || c === 'EDQUOT'))
    return new Problem(507, 'The disk of the server is full, so nothing was kept.', {
      remedy: 'Make room on it and send it again.',
    });
  if (error instanceof TookTooLong)
    return new Problem(422, `It took longer than the ${error.seconds} s that are allowed, and was stopped.`, {
      remedy: 'Split the drawing, or raise SCALARIA_TASK_SECONDS.',
    });
  if (error instanceof DamagedBlob)
    return new Problem(500, `The file cannot be used: ${error.message}.`, {
      remedy: 'Take the same file in again: that mends it.',
    });
  if ((error as { code?: string } | undefined)?.code === 'ERR_WORKER_OUT_OF_MEMORY')
    return new Problem(422, 'It needed more memory than is allowed, and was stopped.', {
      remedy: 'Split the drawing, or raise SCALARIA_THREAD_MB.',
    });
  return null;
}

/** Turns what was thrown into an answer with words. Only our own words go out; the rest goes to the log. */
function problems(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, _next) => {
    if (response.headersSent) {
      response.end();
      return;
    }
    if (error instanceof Problem) {
      response.status(error.status).json({ title: error.title, ...error.details });
      return;
    }
    const status = (error as { status?: unknown }).status;
    if (typeof status === 'number' && status >= 400 && status < 500) {
      response
        .status(status)
        .json({ title: status === 413 ? 'The request is too large.' : 'The request is not understood.' });
      return;
    }
    // A request whose body was read counts as destroyed: whether anybody still listens is for the response to say.
    const gone = response.destroyed || response.socket?.destroyed === true;
    if (gone && (error as Error | undefined)?.name === 'AbortError') return;
    log.error(error, `${request.method} ${request.path}`);
    if (gone) return;
    const known = problemOf(error);
    if (known) {
      response.status(known.status).json({ title: known.title, ...known.details });
      return;
    }
    response
      .status(500)
      .json({ title: 'Something went wrong on the server. It was written to its log; nothing was lost.' });
  };
}
