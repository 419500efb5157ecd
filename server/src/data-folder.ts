import { createHash, randomUUID } from 'node:crypto';
import { accessSync, constants, existsSync, mkdirSync, openSync, realpathSync, rmSync } from 'node:fs';
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
 * Where the socket lies that stands for a claim: in the folder itself, so that every process that shares the folder meets
 * it, whatever its temporary folder is. Paths of sockets are short (108 bytes on Linux), so a long one goes through the
 * open folder; where that is no way, the socket lies with the temporary files.
 */
function socketPath(folder: string): string {
  const name = createHash('sha256').update(realpathSync(folder)).digest('hex').slice(0, 24);
  if (process.platform === 'win32') return `\\\\.\\pipe\\scalaria-${name}`;
  const own = join(realpathSync(folder), 'lock.sock');
  if (Buffer.byteLength(own) < 100) return own;
  if (process.platform === 'linux') return `/proc/self/fd/${openSync(folder, constants.O_RDONLY)}/lock.sock`;
  return join(tmpdir(), `scalaria-${name}.sock`);
}

/**
 * Claims a data folder for this process: a socket that only its owner answers. It dies with the process, however that
 * ends, so no stale lock stays behind. Throws `CannotStart` when another process answers. Returns how to let go.
 */
export async function claimFolder(folder: string): Promise<() => void> {
  const inUse = (): CannotStart =>
    new CannotStart(
      `The data folder ${folder} is in use by another Scalaria process. Stop it, or choose another folder with SCALARIA_DATA=/path.`,
    );
  const path = socketPath(folder);
  if ((await answerOf(path)) !== null) throw inUse();
  if (process.platform !== 'win32') rmSync(path, { force: true });
  const token = randomUUID();
  const server = createServer((socket) => socket.end(token));
  await new Promise<void>((resolve, reject) => {
    server.once('error', (e: NodeJS.ErrnoException) =>
      reject(
        e.code === 'EADDRINUSE'
          ? inUse()
          : new CannotStart(`The data folder ${folder} cannot be claimed (${e.message}).`),
      ),
    );
    server.listen(path, resolve);
  });
  server.unref();
  // Of two that start at once, each having found no other, the one whose socket was taken away gives up.
  await new Promise((resolve) => setTimeout(resolve, 100));
  if ((await answerOf(path)) !== token) {
    server.close();
    throw inUse();
  }
  return () => server.close();
}

/** What the owner of a socket says; `null` when nobody is there. */
const answerOf = (path: string): Promise<string | null> =>
  new Promise((resolve) => {
    const socket = connect(path);
    let said = '';
    socket.on('data', (d: Buffer) => (said += d.toString()));
    socket.once('end', () => resolve(said));
    socket.once('error', () => resolve(null));
    // Whoever holds it and does not speak is there all the same.
    socket.setTimeout(2000, () => {
      socket.destroy();
      resolve(said);
    });
  });
