import { boundsOf } from '../../drawing/bounds.js';
import type { Drawing } from '../../drawing/drawing.js';
import { layerIndex, layerKey } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import { BoundsSink, addEntityBounds } from '../../drawing/measures.js';
import { KINDS } from '../../drawing/kinds.js';
import { IDENTITY } from '../../geometry/affine.js';
import { Box2 } from '../../geometry/box.js';
import { addTextReach } from '../../text/text-reach.js';
import type { WriteOptions } from '../write-options.js';
import type { PictureFrame } from './shown.js';
import { perMmOf, windowOf } from './made.js';

/** The heaviest weight that a layer can give, in mm. */
const WIDEST_MM = 2.2;

export interface Bands {
  /** The objects that bear on each band of rows, in their order. */
  readonly bands: readonly Entity[][];
  /** How many that are in sight the picture does not show, and how many are not in sight. */
  readonly beyond: number;
  readonly hidden: number;
}

/** What an object of model space covers without its width; `null` where that has no end or is not known. */
function coverOf(e: Entity, drawing: Drawing, options: Pick<WriteOptions, 'fonts'>): Box2 | null {
  if (e.kind === 'ray') return null;
  const box = new Box2();
  if (e.kind === 'text' || e.kind === 'richText') addTextReach(e, IDENTITY, drawing, options.fonts, box);
  // What is shown by a block or by parts may hold texts, which reach further than their points.
  else if (e.kind === 'insert' || KINDS[e.kind].shown === 'parts' || KINDS[e.kind].shown === 'block') return null;
  else addEntityBounds(e, IDENTITY, new BoundsSink(box));
  return box.empty ? null : box;
}

/** Parts a picture into bands of so many rows. */
export function bandsOf(drawing: Drawing, options: WriteOptions, frame: PictureFrame, rows: number): Bands {
  const count = Math.ceil(frame.height / rows);
  const bands = Array.from({ length: count }, (): Entity[] => []);
  const window = windowOf(frame);
  const layers = layerIndex(drawing);
  const perMm = perMmOf(frame);
  let beyond = 0;
  let hidden = 0;
  for (const e of drawing.entities) {
    if (e.sheet !== undefined) continue;
    const layer = layers.get(layerKey(drawing, e.layer));
    const frozen = !e.look.visible || layer?.frozen === true;
    // An insert on a layer that is off still shows what lies on others.
    if (frozen || (layer?.off === true && e.kind !== 'insert')) {
      hidden++;
      continue;
    }
    const box = coverOf(e, drawing, options);
    const seen = box ?? (e.kind === 'ray' ? null : boundsOf({ ...drawing, entities: [e] }));
    if (seen && !seen.empty && !seen.meets(window)) beyond++;
    if (!box) {
      for (const band of bands) band.push(e);
      continue;
    }
    const { width, miter } = e.look;
    const own =
      width.kind === 'drawing' ? width.value * frame.perUnit : (width.kind === 'paper' ? width.mm : WIDEST_MM) * perMm;
    const varying =
      e.kind === 'polyline' && e.widths ? e.widths.reduce((a, b) => Math.max(a, b), 0) * frame.perUnit : 0;
    const wide = Math.max(own, varying, (options.hairline ?? 0) * perMm, 1) * Math.max(1, miter) + 2;
    const [from, to] = [box.maxY, box.minY].map((y, i) => (frame.top - y) * frame.perUnit + (i === 0 ? -wide : wide));
    const [first, last] = [Math.max(0, Math.floor(from! / rows)), Math.min(count - 1, Math.floor(to! / rows))];
    for (let b = first; b <= last; b++) bands[b]!.push(e);
  }
  return { bands, beyond, hidden };
}
