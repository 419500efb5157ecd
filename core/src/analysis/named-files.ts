import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';

/** A file that a drawing names and does not hold. */
export interface NamedFile {
  kind: 'drawing' | 'picture';
  /** The path as the drawing states it, and the name at its end. */
  path: string;
  name: string;
  /** How often it is placed. */
  places: number;
}

/** The last part of a path of either kind of slash. */
export const pathTail = (path: string): string => path.replace(/^.*[\\/]/, '');

/** The reference drawings and pictures that a drawing names, each once, drawings first. Pictures that it holds are none. */
export function filesNamedBy(drawing: Drawing): NamedFile[] {
  const found = new Map<string, NamedFile>();
  const put = (kind: NamedFile['kind'], path: string, places: number): void => {
    const key = `${kind} ${path.toLowerCase()}`;
    const known = found.get(key);
    if (known) known.places += places;
    else found.set(key, { kind, path, name: pathTail(path), places });
  };
  const inserts = new Map<string, number>();
  const look = (list: readonly Entity[]): void => {
    for (const e of list) {
      if (e.kind === 'insert') inserts.set(e.block.toLowerCase(), (inserts.get(e.block.toLowerCase()) ?? 0) + 1);
      if (e.kind === 'image' && !e.cover && !e.data && e.file) put('picture', e.file, 1);
    }
  };
  look(drawing.entities);
  for (const b of drawing.blocks.values()) look(b.entities);
  for (const [key, b] of drawing.blocks) if (b.reference) put('drawing', b.reference, inserts.get(key) ?? 0);
  return [...found.values()].sort((a, b) => (a.kind === b.kind ? 0 : a.kind === 'drawing' ? -1 : 1));
}

/**
 * Which of a job's files a named file is: the same name, capitals aside; or the same name before its ending, since a
 * reference to a DWG is as well met by the DXF of it. `null` when none is.
 */
export function foundAmong<T extends { name: string }>(file: NamedFile, files: readonly T[]): T | null {
  const name = file.name.toLowerCase();
  const stem = (n: string): string => n.toLowerCase().replace(/\.[a-z0-9]+$/, '');
  const same = files.find((f) => f.name.toLowerCase() === name);
  return same ?? (file.kind === 'drawing' ? (files.find((f) => stem(f.name) === stem(file.name)) ?? null) : null);
}

/** Those of a job's drawings that are referred to by these names, and those that these refer to in turn, as far as they say. */
export function referencesAmong<T extends { name: string; references?: readonly string[] }>(
  names: readonly string[],
  files: readonly T[],
): T[] {
  const out = new Set<T>();
  const asked = [...names];
  for (let path = asked.pop(); path !== undefined; path = asked.pop()) {
    const found = foundAmong({ kind: 'drawing', path, name: pathTail(path), places: 1 }, files);
    if (!found || out.has(found)) continue;
    out.add(found);
    asked.push(...(found.references ?? []));
  }
  return [...out];
}
