import type { ChildProcess } from 'node:child_process';
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const MAIN = fileURLToPath(new URL('../dist/main.js', import.meta.url));

export const newFolder = (): string => mkdtempSync(join(tmpdir(), 'scalaria-server-'));
export const demoFile = (name: string): Uint8Array<ArrayBuffer> =>
  new Uint8Array(readFileSync(fileURLToPath(new URL(`../../demo/files/${name}`, import.meta.url))));

export interface Running {
  url: string;
  child: ChildProcess;
  stop: (signal?: NodeJS.Signals) => Promise<void>;
}

/** Starts the built server on a free port; resolves when it says that it is ready. */
export function start(folder: string, env: Record<string, string> = {}): Promise<Running> {
  const child = spawn(process.execPath, [MAIN], {
    env: { ...process.env, SCALARIA_DATA: folder, SCALARIA_PORT: '0', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  const stop = async (signal: NodeJS.Signals = 'SIGTERM'): Promise<void> => {
    child.kill(signal);
    await ended;
  };
  return new Promise((resolve, reject) => {
    let said = '';
    child.stderr!.on('data', (d: Buffer) => (said += d.toString()));
    child.stdout!.on('data', (d: Buffer) => {
      said += d.toString();
      const url = /ready at (\S+)/.exec(said)?.[1];
      if (url) resolve({ url, child, stop });
    });
    child.once('exit', (code) => reject(new Error(`ended with ${code}: ${said}`)));
  });
}

/** Runs the server until it gives up; what it said and its exit code. */
export function startAndFail(
  folder: string,
  env: Record<string, string> = {},
): Promise<{ code: number | null; said: string }> {
  const child = spawn(process.execPath, [MAIN], {
    env: { ...process.env, SCALARIA_DATA: folder, SCALARIA_PORT: '0', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  child.stderr.on('data', (d: Buffer) => (said += d.toString()));
  return new Promise((resolve) => child.once('exit', (code) => resolve({ code, said })));
}

export interface Answer {
  status: number;
  // Tests look into answers of many shapes.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  body: any;
}

export async function ask(
  url: string,
  method = 'GET',
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<Answer> {
  const raw = body instanceof Uint8Array;
  const init: RequestInit = {
    method,
    headers: { ...(body && !raw ? { 'Content-Type': 'application/json' } : {}), ...headers },
  };
  if (body !== undefined) init.body = raw ? (body as Uint8Array<ArrayBuffer>) : JSON.stringify(body);
  const response = await fetch(url, init);
  const text = await response.text();
  let parsed: unknown = text;
  try {
    parsed = JSON.parse(text);
  } catch {
    // Files are no JSON.
  }
  return { status: response.status, body: parsed };
}

/** Waits until a delivery has ended. */
export async function ended(url: string, id: string): Promise<Answer['body']> {
  for (let i = 0; i < 300; i++) {
    const { body } = await ask(`${url}/api/deliveries/${id}`);
    if (!['waiting', 'working'].includes(body.state)) return body;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('the delivery did not end');
}
