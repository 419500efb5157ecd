import { accessSync, constants, existsSync, mkdirSync, realpathSync, rmSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { connect, createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';

/** Starting cannot go on; the message is for the person who started. */
export class CannotStart extends Error {
  override name = 'CannotStart';
}

/** Level by level: `recursive` never returns on file systems that deny having what they list (such as /proc). */
function makeFolders(folder: string): void {
  if (existsSync(folder)) return;
  const parent = dirname(folder);
  if (parent !== folder) makeFolders(parent);
  mkdirSync(folder);
}

/** Makes the folder if need be and makes sure that it can be written to. Throws `CannotStart`. */
export function prepareFolder(folder: string): void {
  try {
    makeFolders(folder);
    accessSync(folder, constants.R_OK | constants.W_OK | constants.X_OK);
    // Permission bits do not tell of a read-only file system or a file in the way.
    const probe = join(folder, `.probe-${process.pid}`);
    mkdirSync(probe);
    rmSync(probe, { recursive: true });
  } catch (e) {
    const why = e instanceof Error ? e.message : String(e);
    throw new CannotStart(
      `The data folder ${folder} cannot be written to (${why}). Choose another with SCALARIA_DATA=/path.`,
    );
  }
}

/**
 * Claims a data folder for this process: a socket that only its owner answers. It dies with the process, however that
 * ends, so no stale lock stays behind. Throws `CannotStart` when another process answers. Returns how to let go.
 */
export async function claimFolder(folder: string): Promise<() => void> {
  const name = createHash('sha256').update(realpathSync(folder)).digest('hex').slice(0, 24);
  const path = process.platform === 'win32' ? `\\\\.\\pipe\\scalaria-${name}` : join(tmpdir(), `scalaria-${name}.sock`);
  if (await answers(path)) {
    throw new CannotStart(
      `The data folder ${folder} is in use by another Scalaria process. Stop it, or choose another folder with SCALARIA_DATA=/path.`,
    );
  }
  if (process.platform !== 'win32') rmSync(path, { force: true });
  const server = createServer((socket) => socket.end());
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(path, resolve);
  });
  server.unref();
  return () => server.close();
}

const answers = (path: string): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect(path);
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
