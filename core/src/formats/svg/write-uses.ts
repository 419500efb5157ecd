import type { Affine } from '../../geometry/affine.js';
import { compose, inverse, scaling } from '../../geometry/affine.js';
import type { Drawing } from '../../drawing/drawing.js';
import { layerKey } from '../../drawing/drawing.js';
import type { Entity, Insert } from '../../drawing/entity.js';
import { insertMatrix } from '../../drawing/resolve.js';

/** An insert that is drawn like an earlier one, moved or turned: which, and the matrix of the page from that to this. */
export interface Repeat {
  first: number;
  transform: readonly number[];
}

/**
 * Inserts in model space that look like an earlier one but for being moved or turned, by id. Arrays, attributes and
 * inserts of another scale are left alone: lines would change their width.
 */
export function sameInserts(drawing: Drawing): Map<number, Repeat> {
  const firsts = new Map<string, { insert: Insert; m: Affine }>();
  const looks = new Map<Entity['look'], number>();
  const out = new Map<number, Repeat>();
  const flip = scaling(1, -1, 1);
  for (const e of drawing.entities) {
    if (e.kind !== 'insert' || e.sheet !== undefined || e.normal || e.attributes.length > 0) continue;
    if (e.columns !== 1 || e.rows !== 1) continue;
    if (!looks.has(e.look)) looks.set(e.look, looks.size);
    const key = [e.block.toLowerCase(), layerKey(drawing, e.layer), looks.get(e.look), ...e.scale, e.at[2]].join('|');
    const m = insertMatrix(e, drawing.blocks.get(e.block.toLowerCase()));
    const first = firsts.get(key);
    if (!first) {
      firsts.set(key, { insert: e, m });
      continue;
    }
    const t = compose(flip, compose(compose(m, inverse(first.m)), flip));
    out.set(e.id, { first: first.insert.id, transform: [t[0], t[1], t[3], t[4], t[9], t[10]] });
  }
  return out;
}
