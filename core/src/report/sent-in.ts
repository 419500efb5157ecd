import type { Drawing } from '../drawing/drawing.js';
import type { Stage } from '../drawing/lineage.js';
import { pairEntities } from '../proof/pairing.js';
import type { Sent } from '../sets/coming-back.js';
import { originsOf } from '../sets/coming-back.js';

/**
 * The objects of a file in model space, each with what it was in the source. `written`: what was handed to the writer; `file`: the same
 * read back; `stages`: all that was done on the way, from the source on.
 */
export function sentIn(written: Drawing, file: Drawing, stages: readonly Stage[]): Sent[] {
  const origins = originsOf(stages);
  return pairEntities(written, file, new Map())
    .pairs.filter((p) => p.space === 'model')
    .map(({ want, got }) => {
      const from = origins(want);
      const [first] = from;
      // What was made of objects of several layers has no layer of its own.
      return { entity: got, was: first && from.every((e) => e.layer === first.layer) ? first : null };
    });
}
