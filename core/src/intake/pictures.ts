import { addressAsStored } from '../formats/picture/as-stored.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { Ledger } from '../drawing/ledger.js';
import { Lineage } from '../drawing/lineage.js';
import { foundAmong, pathTail } from '../analysis/named-files.js';

/** A picture of the job: its name, and itself as a `data:` address. */
export interface GivenPicture {
  name: string;
  data: string;
}

/**
 * The drawing with the pictures that it only names held in it, where the job has them: found by name, capitals aside.
 * Pictures that it holds already stay.
 */
export function withPictures(
  drawing: Drawing,
  given: readonly GivenPicture[],
  ledger: Ledger,
  lineage = new Lineage(),
): Drawing {
  if (given.length === 0) return drawing;
  const found = new Map<string, GivenPicture | null>();
  const pictureFor = (path: string): GivenPicture | null => {
    let known = found.get(path);
    if (known === undefined) {
      const named = { kind: 'picture' as const, path, name: pathTail(path), places: 1 };
      found.set(path, (known = foundAmong(named, given)));
    }
    return known;
  };
  const held: number[] = [];
  const hold = (e: Entity): Entity => {
    if (e.kind !== 'image' || e.cover || e.data !== undefined || !e.file) return e;
    const picture = pictureFor(e.file);
    if (!picture) return e;
    held.push(e.id);
    const filled = { ...e, data: addressAsStored(picture.data) };
    lineage.replace(e, [filled], 'picture-held');
    return filled;
  };
  const entities = drawing.entities.map(hold);
  const blocks = new Map([...drawing.blocks].map(([key, b]) => [key, { ...b, entities: b.entities.map(hold) }]));
  if (held.length === 0) return drawing;
  for (const id of held) ledger.add({ carryOver: 'links', action: 'kept', reason: 'pictures-found', id });
  return { ...drawing, entities, blocks };
}
