import type { IncomingMessage, ServerResponse } from 'node:http';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { pino } from 'pino';
import { DiskBlobs } from './blobs/disk-blobs.js';
import type { Config } from './config.js';
import { CannotStart, claimFolder, prepareFolder } from './data-folder.js';
import { openDatabase } from './database/open.js';
import { makeApp } from './http/app.js';
import type { Context } from './http/context.js';
import { retryFaults } from './http/part-books.js';
import { DeliveryQueue } from './tasks/deliveries.js';
import { WorkerPool } from './tasks/pool.js';

export interface RunningServer {
  address: string;
  context: Context;
  close: () => Promise<void>;
}

/** Starts everything. Throws `CannotStart` with words for the person when it cannot. */
export async function startServer(config: Config): Promise<RunningServer> {
  const log = pino({ level: process.env['SCALARIA_LOG'] ?? 'warn' }, pino.destination(2));
  prepareFolder(config.folder);
  const letGo = await claimFolder(config.folder);
  const http = createServer();
  const starting = (_request: IncomingMessage, response: ServerResponse): void => {
    response.writeHead(503, { 'Content-Type': 'application/json', 'Retry-After': '1' });
    response.end(JSON.stringify({ title: 'Scalaria is starting.' }));
  };
  http.on('request', starting);
  // The port first: it is the likeliest thing to be taken, and cheap to ask for.
  await listen(http, config).catch((e: unknown) => {
    letGo();
    throw e;
  });
  const database = await openDatabase(config.folder, config.databaseUrl);
  const blobs = new DiskBlobs(join(config.folder, 'blobs'));
  const pool = new WorkerPool(config.threads, config.threadMemoryMb, config.taskSeconds * 1000);
  const queue = new DeliveryQueue(database, blobs, pool, log, config.threads);
  const limits = { uploadBytes: config.uploadMb * 1048576, drawingsPerJob: 1000, jobs: 10_000 };
  const context: Context = { database, blobs, pool, queue, limits, log };
  await retryFaults(context);
  await queue.start(config.databaseUrl === undefined);
  http.off('request', starting);
  http.on('request', makeApp(context, { hosts: config.hosts, key: config.key }, log));
  const { port } = http.address() as AddressInfo;
  return {
    address: `http://${config.host.includes(':') ? `[${config.host}]` : config.host}:${port}`,
    context,
    close: async () => {
      http.closeAllConnections();
      await new Promise<void>((resolve) => http.close(() => resolve()));
      await queue.stop();
      await pool.close();
      await database.close();
      letGo();
    },
  };
}

function listen(http: ReturnType<typeof createServer>, config: Config): Promise<void> {
  return new Promise((resolve, reject) => {
    http.once('error', (e: NodeJS.ErrnoException) => {
      if (e.code === 'EADDRINUSE')
        reject(
          new CannotStart(
            `Port ${config.port} is taken by another program. Stop it, or choose another port with SCALARIA_PORT=…`,
          ),
        );
      else if (e.code === 'EACCES')
        reject(
          new CannotStart(
            `Port ${config.port} needs rights this user does not have. Choose one above 1023 with SCALARIA_PORT=…`,
          ),
        );
      else reject(new CannotStart(`Cannot listen on ${config.host}:${config.port}: ${e.message}`));
    });
    http.listen(config.port, config.host, () => resolve());
  });
}
