import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';

/** A picture that a file names, to lie beside it under just that name. */
export interface NamedPicture {
  readonly name: string;
  /** A `data:` address. */
  readonly data: string;
}

/** Names that mean a file in the same folder and nothing else, wherever that is. */
const PLAIN = /^(?:\.[\\/])?([^\\/:*?"<>|\p{Cc}]*[^\\/:*?"<>|\p{Cc}. ]\.(?:png|jpe?g))$/iu;

/**
 * The pictures at hand that a file of what was written names by nothing but their names: without them beside it, it shows empty frames.
 * What lies on other ways (folders, drives) is the receiver's.
 */
export function namedPictures(written: Drawing): NamedPicture[] {
  const found = new Map<string, NamedPicture>();
  const look = (list: readonly Entity[]): void => {
    for (const e of list) {
      if (e.kind !== 'image' || e.cover || e.data === undefined || e.file === undefined) continue;
      const name = PLAIN.exec(e.file)?.[1];
      if (name === undefined || found.has(name.toLowerCase())) continue;
      found.set(name.toLowerCase(), { name, data: e.data });
    }
  };
  look(written.entities);
  for (const b of written.blocks.values()) look(b.entities);
  return [...found.values()].sort((a, b) => (a.name < b.name ? -1 : 1));
}
