import { selectedBy } from '../analysis/selection.js';
import { derive } from '../drawing/derive.js';
import type { Entity } from '../drawing/entity.js';
import { hiddenCircle } from '../drawing/hidden-circle.js';
import { CIRCLE_TOLERANCE } from '../parameters/circle-tolerance.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Turns circles that are drawn as chords or Béziers back into circles. */
export const recoverCircles = defineStep({
  id: 'recover-circles',
  title: 'Recover circles',
  summary: 'Closed polylines of chords and paths of Béziers that lie on a circle become that circle.',
  carries: ['curves'],
  group: 'curves',
  example: {
    drawing: exampleDrawing([
      sketch.chain(
        Array.from({ length: 32 }, (_, i) => 15 * (i % 2 ? Math.sin : Math.cos)((Math.floor(i / 2) * Math.PI) / 8)),
        true,
      ),
    ]),
  },
  params: { ...CIRCLE_TOLERANCE, which: p.selection({ title: 'Which curves' }) },
  run(drawing, params, ctx) {
    const tolerance = params.tolerance / 1000;
    const unit = drawing.unit?.unit ?? 'units';
    const wanted = selectedBy(params.which, drawing);
    let count = 0;
    let farthest = 0;
    const convert = (e: Entity): Entity => {
      const c = wanted(e) ? hiddenCircle(e, tolerance) : null;
      if (!c) return e;
      count++;
      farthest = Math.max(farthest, c.off);
      const lift = e.kind === 'polyline' ? e.elevation : 0;
      const made = derive(e, 'whole', { kind: 'circle', centre: [c.x, c.y, lift], radius: c.radius });
      ctx.lineage.replace(e, [made], 'circle-recovered', c.off);
      return made;
    };
    const entities = drawing.entities.map(convert);
    const blocks = new Map([...drawing.blocks].map(([k, b]) => [k, { ...b, entities: b.entities.map(convert) }]));
    if (count === 0) return drawing;
    ctx.ledger.add({
      carryOver: 'curves', action: 'changed', onPurpose: true, count, reason: 'circles-recovered',
      deviation: { value: Number(farthest.toPrecision(3)), unit },
    }); // prettier-ignore
    return { ...drawing, entities, blocks };
  },
});
