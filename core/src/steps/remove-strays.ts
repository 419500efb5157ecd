import { selectedBy } from '../analysis/selection.js';
import { straysOf } from '../analysis/strays.js';
import type { Entity } from '../drawing/entity.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Takes out the few objects that lie far outside all the rest. */
export const removeStrays = defineStep({
  id: 'remove-strays',
  title: 'Remove strays',
  summary: 'A few objects far outside all the rest, left there by accident, are taken out.',
  carries: ['origin'],
  group: 'clean',
  example: {
    drawing: exampleDrawing([
      ...Array.from({ length: 12 }, (_, i) => sketch.line(3 * i, 0, 3 * i, 24)),
      sketch.circle(180, 60, 4),
    ]),
    params: { most: 0.1 },
  },
  params: {
    times: p.number({ title: 'Far is more than this many times the size of the rest', default: 1, above: 0 }),
    most: p.number({ title: 'A few are at most this part of all', default: 0.02, above: 0 }),
    which: p.selection({ title: 'Which objects' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    ctx.look(drawing.entities.length);
    // What lay far from the rest hides what lies less far: looked for again until nothing is found.
    const gone = new Set<Entity>();
    let now = drawing;
    for (let round = 0; round < 8; round++) {
      const found = straysOf(now, params.times, params.most, ctx)
        .strays.map((s) => s.entity)
        .filter(wanted);
      if (found.length === 0) break;
      found.forEach((e) => gone.add(e));
      now = { ...now, entities: now.entities.filter((e) => !gone.has(e)) };
    }
    if (gone.size === 0) return drawing;
    for (const e of gone) ctx.lineage.remove(e, 'stray');
    ctx.ledger.add({
      carryOver: 'origin',
      action: 'dropped',
      onPurpose: true,
      count: gone.size,
      reason: 'strays-removed',
      becomes: { from: 'entity', to: 'nothing', gone: gone.size, entities: 0 },
    });
    return now;
  },
});
