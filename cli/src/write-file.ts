import type { Beside } from '@scalaria/core';
import { besideName } from '@scalaria/core';
import { closeSync, fsyncSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Failure } from './worker.js';

/** Writes a file and the small ones that belong beside it, by its name with endings of their own. Says what was in the way, or `null`. */
export function writeWith(out: string, bytes: Uint8Array, beside: readonly Beside[]): Failure | null {
  const text = new TextEncoder();
  return beside.reduce<Failure | null>(
    (failed, b) => failed ?? writeFile(besideName(out, b.ending), text.encode(b.text)),
    writeFile(out, bytes),
  );
}

/** Writes a file whole or not at all: beside its place first, then renamed. Says what was in the way, or `null`. */
export function writeFile(out: string, bytes: Uint8Array): Failure | null {
  const temporary = join(dirname(out), `.${basename(out)}.${process.pid}.part`);
  let file: number | null = null;
  try {
    file = openSync(temporary, 'wx');
    for (let at = 0; at < bytes.length;) at += writeSync(file, bytes, at);
    fsyncSync(file);
    closeSync(file);
    file = null;
    renameSync(temporary, out);
    return null;
  } catch (e) {
    if (file !== null) closeSync(file);
    rmSync(temporary, { force: true });
    const { code, message } = e as NodeJS.ErrnoException;
    const [why, remedy] = {
      ENOSPC: ['there is no room left', 'Make room and convert it again.'],
      EDQUOT: ['there is no room left', 'Make room and convert it again.'],
      EACCES: ['the folder does not let you', 'Choose another folder, or change your rights.'],
      EROFS: ['the disk is read-only', 'Choose another folder.'],
      ENOENT: ['its folder is not there', 'Make the folder first.'],
      EISDIR: ['a folder of that name is there', 'Choose another name.'],
      ENOTEMPTY: ['a folder of that name is there', 'Choose another name.'],
    }[code ?? ''] ?? [message, 'Choose another place.'];
    return { ok: false, kind: 'unwritten', message: `${out} cannot be written: ${why}`, remedy: remedy! };
  }
}
