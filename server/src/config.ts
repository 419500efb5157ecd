import { availableParallelism } from 'node:os';
import { resolve } from 'node:path';
import { CannotStart } from './data-folder.js';
import { isLoopback } from './http/guards.js';

export interface Config {
  folder: string;
  host: string;
  port: number;
  hosts: string[];
  key: string | undefined;
  databaseUrl: string | undefined;
  uploadMb: number;
  threads: number;
  threadMemoryMb: number;
  taskSeconds: number;
}

/** Reads the environment. Throws `CannotStart` for values that make no sense. */
export function readConfig(env: Record<string, string | undefined>): Config {
  const whole = (name: string, otherwise: number, least: number, most: number): number => {
    const text = env[name];
    if (text === undefined || text === '') return otherwise;
    const v = Number(text);
    if (!Number.isInteger(v) || v < least || v > most)
      throw new CannotStart(`${name} must be a whole number from ${least} to ${most}, not "${text}".`);
    return v;
  };
  const host = env['SCALARIA_HOST'] || '127.0.0.1';
  const key = env['SCALARIA_KEY'] || undefined;
  if (!isLoopback(host) && !key) {
    throw new CannotStart(`Listening on ${host} lets others in: set an access key with SCALARIA_KEY=… first.`);
  }
  return {
    folder: resolve(env['SCALARIA_DATA'] || 'data'),
    host,
    port: whole('SCALARIA_PORT', 4870, 0, 65535),
    hosts: [host, ...(env['SCALARIA_HOSTS'] ?? '').split(',').map((h) => h.trim())].filter(Boolean),
    key,
    databaseUrl: env['DATABASE_URL'] || undefined,
    uploadMb: whole('SCALARIA_UPLOAD_MB', 512, 1, 4096),
    threads: whole('SCALARIA_THREADS', availableParallelism(), 1, 64),
    threadMemoryMb: whole('SCALARIA_THREAD_MB', 4096, 256, 65536),
    taskSeconds: whole('SCALARIA_TASK_SECONDS', 900, 5, 86400),
  };
}
