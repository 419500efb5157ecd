import { Box2 } from '../geometry/box.js';
import type { Drawing } from '../drawing/drawing.js';
import { flattenEntity } from '../drawing/flatten.js';
import { BoundsSink, addEntityBounds, lengthOf } from '../drawing/measures.js';
import { walk } from '../drawing/resolve.js';

/** What was found under a point: the top-level entity, and how it is told of. */
export interface Picked {
  id: number;
  kind: string;
  layer: string;
  /** Length of its curves, in the unit of the drawing. */
  length: number;
}

/** The entity whose curves pass nearest to a point, within `reach`; `null` where none does. */
export function pickCurve(drawing: Drawing, x: number, y: number, reach: number): Picked | null {
  let best: Picked | null = null;
  let least = reach;
  walk(drawing, ({ entity: e, toWorld, top, resolved }) => {
    if (e.kind === 'insert' || e.kind === 'text' || e.kind === 'richText') return;
    const sink = new BoundsSink(new Box2());
    addEntityBounds(e, toWorld, sink);
    const b = sink.box;
    if (b.empty || x < b.minX - least || x > b.maxX + least || y < b.minY - least || y > b.maxY + least) return;
    let [px, py] = [0, 0];
    flattenEntity(e, toWorld, reach / 20, {
      moveTo: (qx, qy) => void ([px, py] = [qx, qy]),
      lineTo: (qx, qy) => {
        const [dx, dy] = [qx - px, qy - py];
        const l = dx * dx + dy * dy;
        const t = l === 0 ? 0 : Math.max(0, Math.min(1, ((x - px) * dx + (y - py) * dy) / l));
        const d = Math.hypot(x - px - t * dx, y - py - t * dy);
        if (d < least) {
          least = d;
          best = { id: top.id, kind: top.kind, layer: resolved.layer, length: lengthOf(top) };
        }
        [px, py] = [qx, qy];
      },
    });
  });
  return best;
}
