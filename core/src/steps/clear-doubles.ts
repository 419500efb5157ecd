import { doublesOf } from '../analysis/doubles.js';
import { selectedBy } from '../analysis/selection.js';
import { shortCurvesOf } from '../analysis/short-curves.js';
import type { Entity } from '../drawing/entity.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';

/** Takes out what the checks for doubles and for curves without length report. */
export const clearDoubles = defineStep({
  id: 'clear-doubles',
  title: 'Clear doubles',
  summary: 'Where curves lie on each other only the first is kept. Zero-length curves are removed.',
  carries: ['curves'],
  group: 'clean',
  example: {
    drawing: exampleDrawing([
      sketch.line(0, 0, 40, 0),
      sketch.line(0, 0, 40, 0),
      sketch.line(0, 0, 0, 24),
      sketch.line(0, 24, 0, 0),
      sketch.circle(20, 12, 6),
      sketch.circle(20, 12, 6),
    ]),
  },
  params: {
    what: p.choice({
      title: 'Clear',
      default: 'both',
      choices: { both: 'Doubles and curves without length', doubles: 'Doubles', lengthless: 'Zero-length curves' },
    }),
    within: p.length({
      title: 'The same when closer than',
      automatic: 'a ten-millionth of the diagonal',
      default: 0,
      atLeast: 0,
    }),
    which: p.selection({ title: 'Which curves' }),
  },
  run(drawing, params, ctx) {
    const wanted = selectedBy(params.which, drawing);
    const top = new Set(drawing.entities.filter(wanted).map((e) => e.id));
    ctx.look(top.size);
    const gone = new Map<number, 'double' | 'lengthless'>();
    if (params.what !== 'lengthless') {
      for (const f of doublesOf(drawing, params.within, ctx)) {
        // The first stays; what stands in a block stays too, since it may be seen elsewhere.
        const kept = f.ids.find((id) => !top.has(id)) ?? f.ids[0];
        for (const id of f.ids) if (id !== kept && top.has(id)) gone.set(id, 'double');
      }
    }
    if (params.what !== 'doubles')
      for (const { entity } of shortCurvesOf(drawing, 0, ctx))
        if (top.has(entity.id)) gone.set(entity.id, 'lengthless');
    if (gone.size === 0) return drawing;
    for (const kind of ['double', 'lengthless'] as const) {
      const count = [...gone.values()].filter((k) => k === kind).length;
      if (count > 0)
        ctx.ledger.add({
          carryOver: 'curves',
          action: 'dropped',
          onPurpose: true,
          count,
          reason: kind === 'double' ? 'doubles-taken-out' : 'lengthless-taken-out',
          becomes: { from: kind, to: 'nothing', gone: count, entities: 0 },
        });
    }
    const stays = (e: Entity): boolean => {
      const why = gone.get(e.id);
      if (why) ctx.lineage.remove(e, why === 'double' ? 'double' : 'without-length');
      return !why;
    };
    return { ...drawing, entities: drawing.entities.filter(stays) };
  },
});
