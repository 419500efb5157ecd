import type { Manifest } from '@scalaria/core';
import { MANIFEST_FILES } from '@scalaria/core';

/** What is there already under a name that a set wants to use. */
export interface Clash {
  readonly name: string;
  /** The same bytes: nothing is to be written. */
  readonly same: boolean;
}

/** What is to be done where another file has a name. */
export type ClashChoice = 'number' | 'replace' | 'leave';

/** One file of a set as it goes into a folder. */
export interface Outgoing {
  readonly name: string;
  readonly sha256: string | null;
  /** Another file names it: by another name it would not be found. */
  readonly named?: boolean;
  /** What it names in itself. */
  readonly names?: readonly string[];
  bytes(): Promise<ArrayBuffer>;
}

const sha256 = async (bytes: ArrayBuffer): Promise<string> =>
  [...new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))]
    .map((b) => b.toString(16).padStart(2, '0'))
    .join('');

async function fileIn(folder: FileSystemDirectoryHandle, name: string): Promise<FileSystemFileHandle | null> {
  try {
    return await folder.getFileHandle(name);
  } catch (e) {
    if ((e as DOMException).name === 'NotFoundError') return null;
    throw e;
  }
}

/** Which names of a set are taken in a folder, by the same bytes or by others. */
export async function clashesIn(folder: FileSystemDirectoryHandle, files: readonly Outgoing[]): Promise<Clash[]> {
  const out: Clash[] = [];
  for (const f of files) {
    const there = await fileIn(folder, f.name);
    if (!there) continue;
    const bytes = await (await there.getFile()).arrayBuffer();
    out.push({ name: f.name, same: (await sha256(bytes)) === (f.sha256 ?? (await sha256(await f.bytes()))) });
  }
  return out;
}

/** A name that is free in a folder, and that no file to come has: `a.dxf`, `a-2.dxf`, … */
async function freeName(folder: FileSystemDirectoryHandle, name: string, coming: ReadonlySet<string>): Promise<string> {
  const [, base, ending] = /^(.*?)(\.[^.]+)?$/.exec(name)!;
  for (let n = 2; ; n++) {
    const next = `${base}-${n}${ending ?? ''}`;
    if (!coming.has(next.toLowerCase()) && !(await fileIn(folder, next))) return next;
  }
}

/** Writes a set into a folder. What is there with the same bytes is not written; of others it is done as was chosen. */
export async function saveInto(
  folder: FileSystemDirectoryHandle,
  files: readonly Outgoing[],
  clashes: readonly Clash[],
  choice: ClashChoice,
  onProgress: (done: number) => void,
): Promise<{ written: string[]; unchanged: string[]; left: string[] }> {
  const coming = new Set(files.map((f) => f.name.toLowerCase()));
  const by = new Map(clashes.map((c) => [c.name, c]));
  const other = (name: string): boolean => by.get(name)?.same === false;
  // What is named in another file would not be found by another name, and a file does not go beside another picture than the one that it names.
  const staysOut = (f: Outgoing, clashes: boolean): boolean =>
    choice !== 'replace' &&
    ((clashes && (choice === 'leave' || f.named === true || (f.names ?? []).length > 0)) ||
      (f.names ?? []).some(other));
  const out = { written: [] as string[], unchanged: [] as string[], left: [] as string[] };
  for (const [i, f] of files.entries()) {
    const clash = by.get(f.name);
    onProgress(i / files.length);
    if (clash?.same) out.unchanged.push(f.name);
    else if (staysOut(f, clash !== undefined)) out.left.push(f.name);
    else {
      const name = clash && choice === 'number' ? await freeName(folder, f.name, coming) : f.name;
      const handle = await folder.getFileHandle(name, { create: true });
      // A writable keeps what is there until it is closed: whole or not at all.
      const to = await handle.createWritable();
      await to.write(await f.bytes());
      await to.close();
      out.written.push(name);
    }
  }
  onProgress(1);
  return out;
}

/** The files of a set, with what they are fetched from. */
export function outgoing(
  manifest: Manifest,
  fetched: (what: { file?: string; picture?: string; own?: string; beside?: number }) => Promise<ArrayBuffer>,
  report: boolean,
): Outgoing[] {
  const own = MANIFEST_FILES.filter((n) => report || n !== 'report.html');
  const files = manifest.files.flatMap((f): Outgoing[] => {
    const named = new Set(f.names ?? []);
    const isNamed = (name: string): boolean => named.has(name);
    return [
      {
        name: f.name,
        sha256: f.sha256,
        ...(named.size > 0 && { names: [...named] }),
        bytes: () => fetched({ file: f.name }),
      },
      ...(f.picture
        ? [
            {
              ...{ name: f.picture.name, sha256: f.picture.sha256, named: isNamed(f.picture.name) },
              bytes: () => fetched({ picture: f.picture!.name }),
            },
          ]
        : []),
      ...(f.beside ?? []).map((b, i): Outgoing => ({
        ...b,
        named: isNamed(b.name),
        bytes: () => fetched({ file: f.name, beside: i }),
      })),
    ];
  });
  return [
    // Several files may name one picture.
    ...new Map(files.map((f) => [f.name, f])).values(),
    ...own.map((name): Outgoing => ({ name, sha256: null, bytes: () => fetched({ own: name }) })),
  ];
}
