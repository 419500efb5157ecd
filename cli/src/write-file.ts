import type { Beside } from '@scalaria/core';
import { asStored, besideName } from '@scalaria/core';
import { closeSync, existsSync, fsyncSync, openSync, readFileSync, renameSync, rmSync, writeSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { AlongFile, Failure } from './worker.js';

/** What belongs beside a file: small texts by its name with endings of their own, and pictures that it names. */
export interface Companions {
  readonly beside: readonly Beside[];
  readonly along: readonly AlongFile[];
}

/**
 * Writes a file and what belongs beside it. A picture that it names keeps its name, and another of that name is not written over unless
 * that is asked for: then nothing is written. Says what was in the way, or `null`.
 */
export function writeWith(
  out: string,
  bytes: Uint8Array,
  { beside, along }: Companions,
  replace = false,
): Failure | null {
  const text = new TextEncoder();
  const placed = along.map((p) => ({ path: join(dirname(out), p.name), bytes: p.bytes }));
  // A photo that says it is to be shown turned lies so in the drawing, and goes without saying it.
  const same = (p: { path: string; bytes: Uint8Array }): boolean =>
    Buffer.from(asStored(readFileSync(p.path))).equals(p.bytes);
  const other = placed.find((p) => !replace && existsSync(p.path) && !same(p));
  if (other)
    return {
      ...{ ok: false, kind: 'unwritten' },
      message: `${out} names the picture ${basename(other.path)}, and another one of that name lies beside it`,
      remedy: 'Choose another folder, or take that one away.',
    };
  const files = [
    { path: out, bytes },
    ...beside.map((b) => ({ path: besideName(out, b.ending), bytes: text.encode(b.text) })),
    ...placed.filter((p) => replace || !existsSync(p.path)),
  ];
  return files.reduce<Failure | null>((failed, f) => failed ?? writeFile(f.path, f.bytes), null);
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
